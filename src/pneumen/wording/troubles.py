"""The search for a fault in sentences: what is wrong, what is asked, what is tried."""

from typing import Final

from pneumen.wording.language import _

COMPLAINTS: Final = {
    "silent": _("Nothing is heard or seen"),
    "hum": _("It hums or buzzes"),
    "hiss": _("It hisses"),
    "crackle": _("It crackles or clicks"),
    "distorted": _("It is harsh, distorted"),
    "one-side": _("It is on one side only"),
    "late": _("It comes late, or twice"),
    "thin": _("It is thin and hollow"),
}
QUESTIONS: Final = {
    "tingle": _("Do you feel a tingle at the lips, the strings or any metal?"),
    "moved": _("Was anything changed since it last worked: a lead, a setting, another device, an update?"),
    "device-light": _("Do the device’s own lights or meter move when you play?"),
    "track-meter": _("Does the meter of the track move when you play?"),
    "backing-heard": _("Do you hear the backing, or any other file, as you should?"),
    "lamp-48v": _("Is the 48 V lamp or switch of this input on?"),
    "wiggle": _("Does it come and go when the lead is moved at either end?"),
    "touch-changes": _("Does it change when you touch the strings or the metal of the plug?"),
    "stays-unplugged": _("Volumes down first: does it stay when the lead is unplugged at the input?"),
    "gain-follows": _("Does it grow with the gain of the input?"),
    "battery-changes": _("Does it change when the laptop runs on its battery, or one device’s mains plug is out?"),
    "turning-changes": _("Does it change when the instrument or microphone is turned or moved?"),
    "loud-only": _("Is it there in the loud passages only?"),
    "muted-monitor-mends": _("Is it gone when the program’s own monitoring is switched off?"),
    "headphones-too": _("Is it in the headphones, not only from the loudspeakers?"),
    "recorded-too": _("Record five seconds: is it in the recording too?"),
}
TRIALS: Final = {
    "phantom-off": _("Gain down, then 48 V on for this input, and wait a few seconds. Never for a passive ribbon."),
    "gain-down": _("Raise the gain slowly while somebody plays; see that no pad and no mute is on."),
    "lead-dead": _("Volumes down, then another lead."),
    "source-off": _("Switch the source on, its own volume up; try a fresh battery."),
    "wrong-input": _("Set the track’s input to the channel that is plugged in."),
    "wrong-device": _("Choose the interface or USB microphone as the program’s audio device, for input and output."),
    "not-armed": _("Arm the track."),
    "monitor-off": _("Switch the track’s monitoring on, or direct monitoring at the interface."),
    "phones-down": _("Headphones all the way in; their volume slowly up; the right socket."),
    "driver-lost": _("Unplug the device, wait, plug it into another port, no hub; install the maker’s driver anew."),
    "no-permission": _("Give the program leave to use the microphone in the system’s privacy settings."),
    "ground-loop": _("Plug everything into one outlet strip; if a DI box is there, lift the ground at it, there only."),
    "shield-broken": _("Volumes down, then another lead."),
    "pickup-field": _("Turn and move away from screens, lamps, chargers and transformers."),
    "lead-beside-mains": _("Take the lead away from mains leads and power supplies; cross them at a right angle."),
    "room-hums": _("Fridge, fan, transformer lamps off, one after the other; listen without headphones."),
    "gain-for-far": _("Come closer with the microphone and lower the gain by as much."),
    "preamp-noise": _("Another input, or a booster before it; a microphone that gives more."),
    "software-gain": _("Set the program’s input gain and plug-ins to nothing, and raise the gain at the input."),
    "room-hisses": _("Ventilation and computer fan off or away; the microphone’s back towards them."),
    "lead-worn": _("Volumes down, then another lead."),
    "socket-dirty": _("Volumes down; plug in and out a few times, or another input."),
    "buffer-small": _("A larger buffer; other programs closed."),
    "usb-hub": _("Another USB port, straight at the computer, and another cable."),
    "battery-low": _("A fresh battery."),
    "input-clips": _("Lower the gain until the loudest passage clears full scale."),
    "level-too-high": _("Turn the instrument’s own volume down, or a pad, or a line input."),
    "microphone-overloads": _("The microphone’s pad, farther off, or a dynamic microphone."),
    "phones-clip": _("Turn the headphones and the program’s output down."),
    "effect-on": _("Switch plug-ins and amplifier models off."),
    "stereo-track": _("A mono track whose input is the one channel that is plugged in."),
    "plug-half-in": _("Push the headphones’ plug and its adapter in all the way."),
    "phones-broken": _("Other headphones."),
    "heard-twice": _("Monitor one way only: at the interface, or through the program."),
    "buffer-large": _("A smaller buffer for recording, or direct monitoring at the interface."),
    "wireless": _("Wired headphones."),
    "offset-missing": _("Measure the way round through a lead, and set the program’s recording offset."),
    "comb-monitor": _("Monitor one way only: two copies of one voice, milliseconds apart, make it hollow."),
    "low-cut-on": _("Low-cut off, at the microphone and at the input."),
    "wrong-side": _("Speak at the microphone’s front: a side-address one is spoken to across, not into its end."),
    "pickup-loaded": _("Set the input to instrument (Hi-Z), or an active DI box."),
}
STOP: Final = _("Stop: let go of everything, pull the mains plug at the wall, and call an electrician before going on.")
ELSE: Final = _(
    "Nothing of this is likely any more. Take the chain apart and build it up from the source, one device at a time, "
    "or bring the microphone and its lead to another interface."
)
FOUND: Final = _(
    "Play loud and soft, listen to both sides, and record ten seconds: there may be a second fault behind the first."
)
SHOWS: Final = {
    "silent": _("nothing but silence"),
    "one-side": _("one side only"),
    "distorted": _("flat tops: it clips"),
    "hum": _("a hum"),
    "crackle": _("clicks or gaps"),
    "hiss": _("a loud floor"),
}
"""What a recording shows, by the complaint it is a sign of."""
ANSWERS: Final = {"yes": _("Yes"), "no": _("No"), "cannot-tell": _("I cannot tell")}


def heard_told(shows: list[str], was_heard: bool) -> str:
    """Say what a recording told; "" where there was none."""
    if not was_heard:
        return ""
    if not shows:
        return _("In the recording nothing of this is found: the fault may sit on the way back to your ears.")
    return _("In the recording: {shows}.").format(shows=", ".join(SHOWS[one] for one in shows))
