"""Connecting: the order of plugging and the phantom rule, for microphones and for plugs."""

from pneumen.core.hookup.plugging import (
    PhantomRule,
    PlugStep,
    phantom_rule,
    plugged_order,
    plugged_phantom_rule,
    plugging_order,
)

__all__ = ["PhantomRule", "PlugStep", "phantom_rule", "plugged_order", "plugged_phantom_rule", "plugging_order"]
