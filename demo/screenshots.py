"""Take docs/screenshots from the demo data of a running Yalla: `./run screenshots`."""

import os
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

FLAGS = "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync"
FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def main() -> None:
    """One picture of each main view, at 1280 by 800."""
    FOLDER.mkdir(exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=FLAGS.split()
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        at = _sign_in(page)
        for name in ("desk", "submissions", "lists", "snags"):
            page.goto(f"{at}/{name}")
            _take(page, name)
        _open(page, f"{at}/sources", "First telescope guide")
        _take(page, "route-sheet")
        page.get_by_role("button", name="On a phone").click()
        page.wait_for_timeout(1000)
        _take(page, "form-builder")
        page.get_by_role("button", name="On a phone").click()
        rule = page.locator("#s-subscribe")
        rule.get_by_role("button", name="Edit rule").click()
        page.get_by_role("group", name="Fields of Star letters").wait_for()
        page.evaluate("document.getElementById('s-subscribe').scrollIntoView()")
        page.evaluate("window.scrollBy(0, -90)")
        _take(page, "handing-over")
        page.get_by_role("region", name="Recent").get_by_role("link").first.click()
        _take(page, "submission")
        _open(page, f"{at}/services", "Telescope shop")
        page.get_by_role("region", name="Sends us").scroll_into_view_if_needed()
        _take(page, "service")
        _open(page, f"{at}/sources", "Night-sky calendar")
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("menuitem", name="Replay submissions").click()
        page.get_by_role("region", name="Before").get_by_role("link").first.click()
        _take(page, "replay")
        _open_person(page, f"{at}/people?search=vesna.rask")
        _take(page, "person")
        _audience(page, at)
        _open(page, f"{at}/broadcasts", "Open nights before the year ends")
        page.get_by_text("will get it").wait_for()
        _take(page, "broadcast")
        _open(page, f"{at}/sequences", "First telescope")
        page.locator("#s2").click()
        _take(page, "sequence-sheet")
        page.get_by_role("button", name="Rehearse").click()
        page.get_by_role("button", name="Hide settings").click()
        _take(page, "rehearsal")
        _mail(page, at)
        _public(page)
        browser.close()


def _mail(page: Page, at: str) -> None:
    """A letter while it is written, and how letters arrive."""
    _open(page, f"{at}/messages", "Open night")
    page.get_by_role("textbox", name="Text of the message").first.click()
    _take(page, "message")
    page.goto(f"{at}/messages/delivery")
    _take(page, "delivery")


def _public(page: Page) -> None:
    """What visitors and readers see."""
    page.goto(f"{os.environ['YALLA_OUTSIDE_ADDRESS']}/inboxes/")
    page.locator("td a").first.click()
    page.get_by_role("navigation", name="Emails").get_by_role("listitem").first.click()
    own = page.frame_locator("iframe").get_by_role("link", name="Your emails and your data")
    page.goto(str(own.get_attribute("href")))
    _take(page, "own-page")
    page.set_viewport_size({"width": 390, "height": 780})
    page.goto(f"{os.environ['YALLA_PUBLIC_ADDRESS']}/f/first-telescope-guide")
    page.get_by_role("button").click()
    _take(page, "form-on-a-phone")


def _sign_in(page: Page) -> str:
    base = os.environ["YALLA_PUBLIC_ADDRESS"]
    page.goto(f"{base}/sign-in")
    page.get_by_label("Email").fill(os.environ["YALLA_DEMO_EMAIL"])
    page.get_by_label("Password").fill(os.environ["YALLA_DEMO_PASSWORD"])
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/desk")
    return f"{base}/w/larkmoor"


def _open(page: Page, address: str, link: str) -> None:
    page.goto(address)
    page.get_by_role("main").get_by_role("link", name=link).first.click()


def _open_person(page: Page, address: str) -> None:
    """The first person of a search."""
    page.goto(address)
    page.get_by_role("row").nth(1).get_by_role("link").first.click()


def _audience(page: Page, at: str) -> None:
    _open(page, f"{at}/audiences", "Has the telescope guide, bought nothing")
    page.get_by_text("Would fit but for one part").wait_for()
    _take(page, "audience")


def _take(page: Page, name: str) -> None:
    page.locator("main[aria-busy=true]").wait_for(state="detached")
    page.wait_for_timeout(2500)
    page.screenshot(path=FOLDER / f"{name}.png")


if __name__ == "__main__":
    main()
