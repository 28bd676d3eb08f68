"""Pneumen, from breath to file: plan, predict, record a test take, measure, correct."""

__version__ = "0.1.0"
