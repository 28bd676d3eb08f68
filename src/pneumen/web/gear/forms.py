"""What an item's page asks for."""

from pneumen.web.fields import NumberField, StepForm


class PriceForm(StepForm):
    problem_id = "price-problem"

    price = NumberField("Price", decimals=2)
