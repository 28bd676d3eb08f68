"""What the tests of the Hookup step start from."""

from pneumen.web.hookup.services import connection_of, parts_with
from pneumen.web.hookup.show import hookup_screen
from pneumen.web.part.models import Part
from tests.web.base import DemoCase


class HookupCase(DemoCase):
    def fresh(self, part=None):
        return Part.objects.whole().get(pk=(part or self.voice).pk)

    def screen(self, part=None):
        return hookup_screen(self.fresh(part))

    def at(self, part=None):
        """Return where the part's microphone is plugged in."""
        part = self.fresh(part)
        connection, number = connection_of(part), [one.pk for one in parts_with(part)].index(part.pk)
        return next(one.ends_at for one in connection.chain.cables if one.from_device == connection.ways[number][0])

    def codes(self, part=None):
        return [fault.why for fault in self.screen(part).faults]
