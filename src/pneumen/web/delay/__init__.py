"""The Delay step: one syllable's journey, the buffer, and measuring the way round."""
