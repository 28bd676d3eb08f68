"""Data sheets as dataclasses: patterns, microphones, interfaces, and what is assumed where a sheet is silent."""

from pneumen.core.gear.families import (
    INTERFACE_FAMILIES,
    MICROPHONE_FAMILIES,
    OWN_FAMILIES,
    RECORDER,
    RECORDER_FAMILY,
    InterfaceFamily,
    MicrophoneFamily,
    interface_from_sheet,
    microphone_from_sheet,
)
from pneumen.core.gear.identify import KINDS, LOOKS, Identified, Look, identify
from pneumen.core.gear.patterns import (
    DEAF_DB,
    PATTERNS,
    directivity_factor,
    directivity_index_db,
    near_response_db,
    off_axis_db,
)
from pneumen.core.gear.sheets import (
    GAIN_MARKINGS,
    GRILLE_M,
    LOWEST_EIN_DBU_A,
    Converter,
    Interface,
    Microphone,
    Preamp,
    UsbMicrophone,
    require_pattern,
)
from pneumen.core.gear.units import dbv_per_pa_to_mv_per_pa, ein_to_weighted_dbu, self_noise_from_signal_to_noise

__all__ = [
    "DEAF_DB",
    "GAIN_MARKINGS",
    "GRILLE_M",
    "INTERFACE_FAMILIES",
    "KINDS",
    "LOOKS",
    "LOWEST_EIN_DBU_A",
    "MICROPHONE_FAMILIES",
    "OWN_FAMILIES",
    "PATTERNS",
    "RECORDER",
    "RECORDER_FAMILY",
    "Converter",
    "Identified",
    "Interface",
    "InterfaceFamily",
    "Look",
    "Microphone",
    "MicrophoneFamily",
    "Preamp",
    "UsbMicrophone",
    "dbv_per_pa_to_mv_per_pa",
    "directivity_factor",
    "directivity_index_db",
    "ein_to_weighted_dbu",
    "identify",
    "interface_from_sheet",
    "microphone_from_sheet",
    "near_response_db",
    "off_axis_db",
    "require_pattern",
    "self_noise_from_signal_to_noise",
]
