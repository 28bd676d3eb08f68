"""The order of plugging, and whether phantom power goes on."""

from pneumen.core.hookup.plugging import PhantomRule, PlugStep, phantom_rule, plugging_order

__all__ = ["PhantomRule", "PlugStep", "phantom_rule", "plugging_order"]
