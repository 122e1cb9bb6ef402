"""A person at the browser: what she sees, clicks, types and drags. Waits for conditions, never for time."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    ElementNotInteractableException,
    StaleElementReferenceException,
    TimeoutException,
)
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text()

Point = tuple[float, float]
NOT_YET = (StaleElementReferenceException, ElementNotInteractableException, ElementClickInterceptedException)
"""Drawn anew, not yet drawn, or under something that goes by itself, such as a message: as good as not there."""


class AtTheBrowser:
    """One browser with one person."""

    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver, self.address = driver, address

    def sign_in(self, login: str, password: str = "quillon") -> None:
        self.open("/sign-in")
        self.one("#login").send_keys(login)
        self.one("#password").send_keys(password, Keys.ENTER)
        self.one(".me, .problem")

    def open(self, path: str) -> None:
        self.driver.get(self.address + path)

    def one(self, css: str) -> WebElement:
        """The element, as soon as it is there."""
        return self.until(lambda: next(iter(self.driver.find_elements(By.CSS_SELECTOR, css)), None), css)

    def all(self, css: str) -> list[WebElement]:
        """The elements that are there now."""
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def press(self, css: str) -> None:
        """Click the element, also where it is drawn anew in that moment."""
        self.until(lambda: (self.one(css).click(), True)[1], f"a click on {css}")

    def type_at(self, css: str, *keys: str) -> None:
        """Type there, also where it is drawn anew in that moment."""
        self.until(lambda: (self.one(css).send_keys(*keys), True)[1], f"keys at {css}")

    def text(self, css: str) -> str:
        """What stands there now."""
        return str(self.until(lambda: (self.one(css).text,), f"the text of {css}")[0])

    def attribute(self, css: str, name: str) -> str:
        """What an attribute of the element says now."""
        return str(self.until(lambda: (self.one(css).get_attribute(name),), f"{name} of {css}")[0])

    def says(self, css: str, words: str, why: str = "") -> None:
        """The words stand there, now or as soon as the page that was asked for has come."""
        self.until(lambda: words in self.one(css).text, f"{css} to say {words!r} {why}")

    def until(self, what: Callable[[], Any], message: str = "", seconds: float = 180) -> Any:
        """What it comes to, asked for again until it is something: more and more seldom, as asking takes its time."""
        pause, end = 0.05, time.monotonic() + seconds
        while True:
            with contextlib.suppress(*NOT_YET):
                if found := what():
                    return found
            if time.monotonic() > end:
                raise TimeoutException(message)
            time.sleep(pause)
            pause = min(pause * 1.25, 0.6)

    def keys(self, *keys: str) -> None:
        ActionChains(self.driver).send_keys(*keys).perform()

    def ctrl(self, key: str) -> None:
        ActionChains(self.driver).key_down(Keys.CONTROL).send_keys(key).key_up(Keys.CONTROL).perform()

    def shift(self, key: str) -> None:
        ActionChains(self.driver).key_down(Keys.SHIFT).send_keys(key).key_up(Keys.SHIFT).perform()

    def alt(self, key: str) -> None:
        ActionChains(self.driver).key_down(Keys.ALT).send_keys(key).key_up(Keys.ALT).perform()

    def click(self, at: Point, holding: str | None = None) -> None:
        chain = ActionChains(self.driver, duration=0)
        chain.w3c_actions.pointer_action.move_to_location(round(at[0]), round(at[1]))
        if holding:
            chain.key_down(holding)
        chain.click()
        if holding:
            chain.key_up(holding)
        chain.perform()

    def drag(self, start: Point, end: Point) -> None:
        chain = ActionChains(self.driver, duration=0)
        pointer = chain.w3c_actions.pointer_action
        pointer.move_to_location(round(start[0]), round(start[1]))
        pointer.pointer_down()
        pointer.move_to_location(round((start[0] + end[0]) / 2), round((start[1] + end[1]) / 2))
        pointer.move_to_location(round(end[0]), round(end[1]))
        pointer.pointer_up()
        chain.perform()

    def wheel(self, at: Point, dy: int, ctrl: bool = False) -> None:
        self.driver.execute_script(
            "document.elementFromPoint(arguments[0], arguments[1]).dispatchEvent(new WheelEvent('wheel', {deltaY: "
            "arguments[2], ctrlKey: arguments[3], clientX: arguments[0], clientY: arguments[1], bubbles: true, "
            "cancelable: true}))",
            at[0], at[1], dy, ctrl,
        )  # fmt: skip

    def word(self, text: str, which: int = 0, page: int = 1) -> tuple[float, float, float, float]:
        """Where a word of the page stands on the screen: left, top, right, bottom."""
        return self.until(
            lambda: self.driver.execute_async_script(
                """const [text, which, number, done] = arguments;
                const sheet = document.querySelector(`.sheet[data-number="${number}"]`);
                if (!sheet.dataset.words) return done(null);
                fetch(`/pages/${sheet.dataset.page}/words`).then((a) => a.json()).then((words) => {
                  const edge = sheet.getBoundingClientRect(), scale = edge.width / Number(sheet.dataset.width);
                  const found = words.filter((w) => w[0] === text)[which];
                  done(found && [edge.left + found[1] * scale, edge.top + found[2] * scale,
                                 edge.left + found[3] * scale, edge.top + found[4] * scale]);
                });""",
                text, which, page,
            ),
            f"the word {text}",
        )  # fmt: skip

    def middle(self, text: str, which: int = 0) -> Point:
        left, top, right, bottom = self.word(text, which)
        return (left + right) / 2, (top + bottom) / 2

    def value(self, key: str) -> str:
        return str(self.one(f"#card-{key} input").get_attribute("value"))

    def card_state(self, key: str) -> str:
        return str(self.one(f"#card-{key}").get_attribute("data-state"))

    def active(self) -> str:
        """The key of the card at hand."""
        card = self.driver.find_elements(By.CSS_SELECTOR, ".card.active")
        return str(card[0].get_attribute("data-key")) if card else ""

    def settled_down(self) -> None:
        """Wait until the desk has answered and drawn itself."""
        self.until(lambda: not self.driver.find_elements(By.CSS_SELECTOR, ".desk.busy"), "the desk to be idle")

    def axe(self) -> list[str]:
        """Violations of accessibility rules on the page as it is (WCAG 2.2 A and AA, and good practice)."""
        if not self.driver.execute_script("return !!window.axe"):
            self.driver.execute_script(AXE)
        found = self.driver.execute_async_script(
            "const done = arguments[0]; "
            "axe.run({resultTypes: ['violations']}).then((r) => done(r.violations.map((v) => "
            "`${v.id}: ${v.nodes.map((n) => n.target.join(' ') + ' ' + n.failureSummary).join('; ')}`)))"
        )
        return [str(one) for one in found]

    def complaints(self) -> list[str]:
        """What the browser's console says, such as violations of the content security policy."""
        return [entry["message"] for entry in self.driver.get_log("browser")]


def at_work(driver: webdriver.Chrome, address: str, path: str) -> AtTheBrowser:
    """Ines at that page, signed in if she was not."""
    person = AtTheBrowser(driver, address)
    person.open(path)
    if driver.find_elements(By.CSS_SELECTOR, "#login"):
        person.sign_in("ines")
        person.open(path)
    return person
