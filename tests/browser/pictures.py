"""Takes the pictures of ``docs/screenshots`` anew: ``python -m tests.browser.pictures ADDRESS`` on a fresh demo."""

from __future__ import annotations

import sys
from pathlib import Path

from tests.browser.conftest import open_browser
from tests.browser.person import AtTheBrowser
from tests.conftest import DEMO

OUT = Path(__file__).parents[2] / "docs" / "screenshots"
DROPPED = (
    "bight-04.pdf", "hallig-02.pdf", "norrhavn-03.tif", "brevanne-01.pdf", "tarnwick-01.jpg", "dredgemoor-01.pdf",
    "hallig-01.tif", "brevanne-03.tif",
)  # fmt: skip


def main(address: str) -> None:
    ines, tomas = (AtTheBrowser(open_browser(), address) for _ in range(2))
    try:
        ines.open("/sign-in")
        take(ines, "sign-in")
        ines.sign_in("ines")
        files = [str(DEMO / name) for name in DROPPED]
        ines.one("input[type=file]").send_keys("\n".join([*files, str(Path(__file__))]))
        ines.until(lambda: "delivered" in ines.text(".standing"), seconds=90)
        ines.until(lambda: not any(w in ines.text(".standing") for w in ("being read", "on the way")), seconds=90)
        take(ines, "today")
        ines.open("/review")
        ines.until(lambda: ines.driver.execute_script(PICTURES_ARE_THERE))
        take(ines, "review")
        tomas.sign_in("tomas")
        tomas.one("#lanes")
        tomas.driver.get(ines.driver.current_url)
        tomas.until(lambda: tomas.driver.execute_script(PICTURES_ARE_THERE))
        take(tomas, "held")
        ines.open("/batches/1")
        ines.until(lambda: ines.driver.execute_script(PICTURES_ARE_THERE))
        take(ines, "batch")
        ines.open("/find?words=hallig")
        take(ines, "find")
    finally:
        for person in (ines, tomas):
            person.driver.quit()


PICTURES_ARE_THERE = (
    "return [...document.querySelectorAll('img')].every((i) => (i.complete && i.naturalWidth) || "
    "i.getBoundingClientRect().height === 0 || i.getBoundingClientRect().top > innerHeight)"
)


def take(person: AtTheBrowser, name: str) -> None:
    person.driver.save_screenshot(str(OUT / f"{name}.png"))


if __name__ == "__main__":
    main(sys.argv[1])
