"""`./pneumen manage`: Django's own commands."""

import os


def run(arguments: list[str]) -> int:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "pneumen.web.site.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(["pneumen manage", *arguments])
    return 0
