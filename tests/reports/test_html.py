"""The page in a real browser: it shows everything, is used by keyboard, and runs no code of others."""

from __future__ import annotations

import json
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import Answer

BROWSER, DRIVER = shutil.which("chromium"), shutil.which("chromedriver")
HOSTILE = "</script><script>document.title='stolen'</script><img src=x onerror=\"document.title='stolen'\">"


@pytest.fixture(scope="module")
def browser() -> Iterator[Any]:
    """Give a browser without a window."""
    if BROWSER is None or DRIVER is None:
        pytest.skip("Chromium and its driver are not installed: the report is not looked at")
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    options.binary_location = BROWSER
    for word in ("--headless=new", "--no-sandbox", "--disable-gpu", "--window-size=1280,800"):
        options.add_argument(word)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=webdriver.ChromeService(DRIVER))
    yield driver
    driver.quit()


def rows(browser: Any) -> list[str]:
    """Return the rows of the list that are drawn."""
    return [row.text for row in browser.find_elements("css selector", ".row")]


def told(browser: Any) -> str:
    return browser.find_element("id", "told").text


def typed(browser: Any, words: str) -> None:
    """Search for words, and wait for the list to follow."""
    box = browser.find_element("id", "search")
    box.clear()
    before = told(browser)
    box.send_keys(words)
    from selenium.webdriver.support.ui import WebDriverWait

    WebDriverWait(browser, 10).until(lambda browser: told(browser) != before)


def test_the_demo_is_shown_searched_and_walked_by_keyboard(
    trams: Path, ytr: Callable[..., Answer], browser: Any
) -> None:
    from selenium.webdriver.common.keys import Keys

    survey = ytr("survey", "-r", "rules", "alder", "--format", "json", "--also", "html=page.html")
    found = survey.json["findings"]
    browser.get((trams / "page.html").as_uri())
    cards = [one.text.split("\n") for one in browser.find_elements("css selector", ".card")]
    assert cards[0] == [f"{len(found):,}", "findings"]
    browser.find_element("css selector", "body").send_keys("/")
    assert told(browser) == f"{len(found):,} of {len(found):,} findings"
    first = browser.find_element("id", "detail").text
    place = browser.find_element("id", "list")
    place.send_keys(Keys.END)
    assert browser.find_element("id", "detail").text != first and rows(browser)
    typed(browser, "stamp kiosk")
    wanted = [one for one in found if "kiosk" in one["path"] and "stamp" in one["rule"]]
    assert told(browser).startswith(f"{len(wanted)} of ") and len(rows(browser)) == len(wanted) > 0
    place.send_keys(Keys.HOME)
    blocks = [one.text for one in browser.find_elements("css selector", "#detail pre")]
    assert "stamp(" in blocks[1] and "tick(zone=" in blocks[2]
    browser.find_element("css selector", "[data-tab=conflicts]").click()
    assert "name-the-fare" in browser.find_element("css selector", ".matrix").text
    assert not browser.find_element("id", "findings").is_displayed()
    assert not browser.get_log("browser")


def test_code_of_strangers_is_nothing_but_text(
    tmp_path: Path, ytr: Callable[..., Answer], browser: Any
) -> None:
    rule = {"name": "any-call", "summary": HOSTILE, "message": f"@{{x}} {HOSTILE}"}
    lines = "".join(f"{key} = {json.dumps(value)}\n" for key, value in rule.items())
    (tmp_path / "r.toml").write_text(f'[[rule]]\n{lines}find = "f(@{{x}})"\nput = "g(@{{x}})"\n', "utf-8")
    odd = "a\u202e<b onmouseover=alert(1)>.py"
    (tmp_path / odd).write_text(f"f({HOSTILE!r})\nf('\u2028 \u202e ä🚋')\n", "utf-8")
    ytr("survey", "-r", "r.toml", ".", "--also", "html=page.html", "--no-config")
    browser.get((tmp_path / "page.html").as_uri())
    assert browser.title.startswith("Survey of")
    browser.find_element("css selector", "[data-tab=findings]").click()
    assert told(browser) == "2 of 2 findings"
    shown = browser.find_element("id", "detail").text
    assert HOSTILE.replace("\"", "") in shown.replace("\"", "").replace("\\", "")
    assert "\u202e" not in browser.find_element("css selector", "body").text
    assert not browser.find_elements("css selector", "img, b[onmouseover]")
    assert browser.title.startswith("Survey of") and not browser.get_log("browser")


def test_twenty_thousand_findings_draw_only_what_is_seen(
    tmp_path: Path, ytr: Callable[..., Answer], browser: Any
) -> None:
    (tmp_path / "r.toml").write_text('[[rule]]\nname = "a-call"\nsummary = "A call."\nfind = "f(@{x})"\n', "utf-8")
    for number in range(20):
        code = "".join(f"f({number * 1000 + at})\n" for at in range(1000))
        (tmp_path / f"m{number}.py").write_text(code, "utf-8")
    ytr("survey", "-r", "r.toml", ".", "--also", "html=page.html", "--no-config")
    browser.get((tmp_path / "page.html").as_uri())
    browser.find_element("css selector", "[data-tab=findings]").click()
    assert told(browser) == "20,000 of 20,000 findings" and len(rows(browser)) < 60
    typed(browser, "f(19999)")
    assert told(browser) == "1 of 20,000 findings" and "m19.py:1000:1" in rows(browser)[0]
