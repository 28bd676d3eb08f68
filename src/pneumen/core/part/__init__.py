"""What is recorded: sources with their levels, as textbooks give them or as a guess that says so."""

from pneumen.core.part.sources import LOUDNESSES, SOURCES, GuessedLevels, Source, guessed_levels

__all__ = ["LOUDNESSES", "SOURCES", "GuessedLevels", "Source", "guessed_levels"]
