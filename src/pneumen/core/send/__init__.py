"""Send: files that line up from zero in any software, with what a person has to know of them."""

from pneumen.core.send.deliver import Delivered, sha256_of
from pneumen.core.send.document import CHANNELS, Also, Pack, SendFile, pack_from_json
from pneumen.core.send.names import delivered_names, safe_name
from pneumen.core.send.package import Delivery, package, write_zip
from pneumen.core.send.together import LEVELS_DB, LOW_CUTS_HZ, Voice, write_balance, write_together

__all__ = [
    "CHANNELS",
    "LEVELS_DB",
    "LOW_CUTS_HZ",
    "Also",
    "Delivered",
    "Delivery",
    "Pack",
    "SendFile",
    "Voice",
    "delivered_names",
    "pack_from_json",
    "package",
    "safe_name",
    "sha256_of",
    "write_balance",
    "write_together",
    "write_zip",
]
