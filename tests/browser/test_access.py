"""Accessibility on each screen, in both themes, wide and narrow."""

from selenium.webdriver.common.keys import Keys

from tests.browser.base import BrowserCase

SCREENS = (
    "/songs/",
    "/parts/1/start/",
    "/parts/1/part/",
    "/parts/2/part/",
    "/parts/1/kit/",
    "/parts/1/kit/families/",
    "/parts/1/kit/identify/?plug=xlr&opening=side",
    "/parts/1/kit/packages/",
    "/gear/",
    "/gear/items/rowan-2/",
    "/parts/1/room/",
    "/parts/2/room/",
    "/parts/1/room/compare/",
    "/parts/1/room/monitors/",
    "/songs/settings/",
    "/parts/1/place/",
    "/parts/2/place/",
    "/parts/1/place/two/",
    "/parts/1/place/two/?how=sing",
    "/parts/1/place/two/?how=pair",
    "/parts/1/place/trials/new/",
    "/parts/1/hookup/",
    "/parts/3/hookup/",
    "/parts/1/hookup/search/?complaint=hum&a=moved:no",
    "/parts/1/hookup/sheet/",
    "/parts/1/delay/",
    "/parts/2/gain/knob/",
    "/parts/1/gain/",
    "/parts/2/gain/",
    "/parts/3/gain/",
    "/parts/1/takes/",
    "/parts/1/takes/?take=1&from=2&to=4",
    "/parts/1/takes/1/spectrum/?from=2&to=4",
    "/parts/1/takes/log/",
    "/parts/1/takes/learnt/",
    "/parts/1/takes/layers/",
    "/parts/1/takes/stand/",
    "/parts/1/takes/sessions/1/sheet/",
    "/parts/1/comp/?line=1",
    "/parts/2/comp/",
    "/parts/1/send/",
    "/parts/1/send/sheet/",
    "/nowhere/",
)
SCREENS += ("/parts/1/gain/?stand", "/parts/1/gain/live/", "/parts/1/gain/live/?stand")


class Wide(BrowserCase):
    def test_each_screen_fits_and_can_be_read_in_both_themes(self):
        self.go("/parts/1/takes/")
        self.press("Play a simulated take")
        self.wait_for_text("Predicted beside measured")
        self.go("/parts/1/takes/layers/")
        self.press("Plan these three")
        self.go("/parts/1/comp/")
        self.keys("button[value=sections]", Keys.ENTER)
        self.wait(lambda: self.all(".lyric-take"))
        self.press("Make the track")
        self.wait(lambda: self.all("[data-track-audio]"))
        self.go("/parts/1/send/")
        self.press("Make the package")
        self.wait(lambda: self.all("a[href$='package.zip']"))
        for theme in ("light", "dark"):
            self.browser.add_cookie({"name": "theme", "value": theme, "path": "/"})
            for path in SCREENS:
                with self.subTest(f"{path} {theme}"):
                    self.go(path)
                    self.assertEqual(self.axe(), [])
                    wider = self.browser.execute_script("return document.documentElement.scrollWidth - innerWidth")
                    self.assertLessEqual(wider, 0)


class Narrow(Wide):
    width, height = 390, 844
