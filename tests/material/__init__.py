"""Takes and faults to try the measuring on: real and sampled sounds made during a run, and what can go wrong in them.

Nothing of it is stored here. The sounds come from Debian's packages, each under its own licence:

* alsa-utils: nine recorded voices and a noise, 48 kHz (GPL-2+);
* espeak-ng: a formant synthesiser that speaks; what it speaks is not covered by its licence (GPL-3+);
* fluidsynth with timgm6mb-soundfont: sampled instruments (GPL-2); a rendering is played once and thrown away;
* freepats: sampled drums and instruments (GPL-2 with an exception for compositions).
"""
