"""A technician at the keyboard and the pointer, whose strokes are counted: a field typed, a choice made, a button pressed,
a page turned. Nothing else of the application is touched."""

import re

import httpx
from playwright.sync_api import Locator, Page, Request, expect

from tests.server import Server

STAGES = ("Brief", "Survey", "Gear", "Signal", "Addresses", "Bandwidth", "Papers")


PASTE = """(field, text) => {
  const data = new DataTransfer();
  data.setData("text/plain", text);
  field.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
}"""


def turn(page: Page, name: str) -> None:
    """To another page of the stage."""
    page.get_by_role("navigation", name="Pages of this stage").get_by_role("link", name=name).click()


class Hand:
    """One plan made from an empty folder; `strokes` is what it took."""

    def __init__(self, page: Page, server: Server, show: str) -> None:
        self.page, self.server, self.strokes, self._under_way = page, server, 0, 0
        page.on("request", lambda asked: self._count(asked, 1))
        for ended in ("requestfinished", "requestfailed"):
            page.on(ended, lambda asked: self._count(asked, -1))  # type: ignore[call-overload]
        page.goto(server.url)
        self.write("Name of the show", show)
        expect(page.get_by_role("heading", name=show, exact=True)).to_be_visible()
        self.plan = page.url.split("/")[4]

    def settle(self) -> None:
        """What was done is kept before the next thing is."""
        for _ in range(400):
            self.page.wait_for_timeout(15)
            if self._under_way <= 0:
                break
        expect(self.page.get_by_role("status").first).to_have_text(re.compile("Saved"))
        expect(self.page.locator("[data-unsaved]")).to_have_count(0)

    def _count(self, asked: Request, by: int) -> None:
        if not asked.url.endswith("/events"):  # what is told as it happens never ends
            self._under_way += by

    def turn(self, stage: str) -> None:
        """To another stage, by its number."""
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press(str(STAGES.index(stage) + 1))
        stages = self.page.get_by_role("navigation", name="Stages")
        expect(stages.get_by_role("link", name=stage)).to_have_attribute("aria-current", "page")
        self.strokes += 1

    def open(self, page: str) -> None:
        """Another page of the stage, unless it is open."""
        link = self.page.get_by_role("navigation", name="Pages of this stage").get_by_role(
            "link", name=page, exact=True
        )
        if link.get_attribute("aria-current") != "page":
            link.click()
            expect(link).to_have_attribute("aria-current", "page")
            self.strokes += 1

    def field(self, label: str, within: Locator | None = None) -> Locator:
        """The one field of that label."""
        return (within or self.page).get_by_label(label, exact=True).first

    def write(self, label: str, text: str, within: Locator | None = None) -> None:
        """Types into a field, and Enter."""
        target = self.field(label, within)
        target.click()
        self.page.keyboard.press("Control+A")
        self.page.keyboard.insert_text(text)
        self.page.keyboard.press("Enter")
        self.strokes += 1
        self.settle_if_open()

    def choose(self, label: str, option: str, within: Locator | None = None) -> None:
        """Chooses in a list by its words."""
        self.field(label, within).select_option(label=option)
        self.page.keyboard.press("Tab")
        self.strokes += 1
        self.settle_if_open()

    def choose_unless(self, label: str, option: str, within: Locator | None = None) -> None:
        """Chooses in a list what does not stand there already."""
        if self.field(label, within).locator("option:checked").text_content() != option:
            self.choose(label, option, within)

    def press(self, name: str, within: Locator | None = None) -> None:
        """Presses a button or a link."""
        (within or self.page).get_by_role("button", name=name, exact=True).first.click()
        self.strokes += 1
        self.settle_if_open()

    def tick(self, label: str, within: Locator | None = None) -> None:
        self.field(label, within).check()
        self.strokes += 1

    def paste(self, label: str, *cells: str) -> None:
        """Pastes a column into a table, from a cell on down."""
        self.field(label).evaluate(PASTE, "\n".join(cells))
        self.strokes += 1
        self.settle_if_open()

    def settle_if_open(self) -> None:
        if "/plans/" in self.page.url:
            self.settle()

    # What is done again and again, each in as few strokes as it takes.

    def ask(self, end: str, name: str = "", **more: str) -> None:
        """Asks for a picture in the brief."""
        self.open("The show")
        form = self.page.get_by_role("region", name="What must arrive").locator("form")
        self.choose("Who must see it, on what", end, form)
        for label, value in more.items():
            self.choose({"where": "Where", "picture": "Which picture", "sound": "Sound"}[label], value, form)
        if name:
            self.write("Called", name, form)  # Enter asks for it
        else:
            self.press("Ask for it", form)

    def site(self, name: str, line: str = "") -> None:
        self.open("Places")
        self.page.get_by_label("Its uplink").select_option(label=line or "none yet")
        self.strokes += bool(line)
        label = (
            "The site"
            if self.page.get_by_label("The site", exact=True).count()
            else "Another site, home or town"
        )
        self.write(label, name)

    def gear(self, model: str, place: str = "", count: int = 1) -> None:
        """Adds boxes of a model, found by words."""
        self.open("Library")
        library = self.page.get_by_role("region", name="Library")
        if place:
            goes = self.field("Goes to", library)
            if goes.locator("option:checked").text_content() != place:
                self.choose("Goes to", place, library)
        if count > 1:
            self.write(f"How many {model}", str(count), library)
        library.get_by_role("button", name=f"Add {model}", exact=True).click()
        self.strokes += 1
        self.settle()

    def get(self, source: str, end: str, way: str = "", into: str = "", picture: str = "") -> None:
        """Gets a picture from one box to another by one of the ways that are offered."""
        self.open("Get a picture there")
        finder = self.page.get_by_role("region", name="Get a picture there")
        self.choose_unless("From", source, finder)
        if picture:
            self.choose("Which picture", picture, finder)
        self.choose_unless("To", end, finder)
        if into:
            self.choose("Into", into, finder)
        names = finder.get_by_role("button", name=re.compile("^(Use this|Plug it in) ?: " + way))
        expect(names.first).to_be_visible()
        names.first.click()
        self.strokes += 1
        self.settle()

    def say(self, line: str, wanted: str = "") -> None:
        """Types a line into the command bar, and takes the answer that is meant; Enter again where it is asked for first."""
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press("/")
        bar = self.page.get_by_role("dialog", name="Command bar")
        expect(bar.get_by_role("combobox")).to_be_focused()
        self.page.keyboard.insert_text(line)
        expect(bar.get_by_role("listbox")).to_have_attribute("aria-busy", "false")
        expect(bar.get_by_role("option").filter(has_text=wanted).first).to_be_visible()
        moved = False
        focused = self.page.locator("[role=option][data-focus]")
        for _ in range(8):
            if wanted in (focused.first.text_content() or ""):
                break
            self.page.keyboard.press("ArrowDown")
            moved = True
        self.page.keyboard.press("Enter")
        again = bar.get_by_role("alert")
        for _ in range(100):
            if again.count() or not bar.count():
                break
            self.page.wait_for_timeout(20)
        self.strokes += 1 + moved + again.count()
        if again.count():
            self.page.keyboard.press("Enter")
        expect(bar).to_have_count(0)
        self.settle()

    def measure(self, line: str, text: str) -> None:
        """Measurements of a line, pasted and added."""
        self.open("Measure")
        pick = self.page.get_by_label("Uplink", exact=True).first
        if pick.count() and pick.locator("option:checked").text_content() != line:
            self.choose("Uplink", line)
        self.page.get_by_label(f"Measurements of {line}").fill(text)
        self.press("Read it")
        self.page.get_by_role("button", name=re.compile(f"^Add \\d+ to {re.escape(line)}")).click()
        self.strokes += 2
        self.settle()

    def know(self, question: str, value: str) -> None:
        """Writes down a fact that is wanted, where it is asked."""
        self.open("To find out")
        row = (
            self.page.get_by_role("region", name="To find out")
            .get_by_role("row")
            .filter(has_text=question)
            .first
        )
        field = row.locator("input, select").first
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(label=value)
            self.page.keyboard.press("Tab")
        else:
            field.fill(value)
            field.press("Enter")
        self.strokes += 1
        self.settle()

    def know_if(self, question: str, value: str) -> None:
        """The same, where it is wanted at all."""
        if any(question in wanted for wanted in self.wanted()):
            self.know(question, value)

    def tried(self, what: str) -> None:
        """Somebody saw it work, in the place, with people there."""
        self.open("To find out")
        row = (
            self.page.get_by_role("region", name="To find out")
            .get_by_role("row")
            .filter(has_text=f"Did {what}")
            .first
        )
        row.get_by_role("button", name=re.compile("worked", re.I)).first.click()
        self.strokes += 1
        self.settle()

    # What the plan says of itself.

    def said(self, what: str) -> httpx.Response:
        """What the server says of the plan."""
        return httpx.get(f"{self.server.url}/api/plans/{self.plan}/{what}")

    def wanted(self) -> list[str]:
        return [w["question"] for w in self.said("proofs").json()["wanted"]]

    def proofs(self) -> dict[str, str]:
        """The state of each proof by its title."""
        return {p["title"]: p["state"] for p in self.said("proofs").json()["proofs"]}

    def findings(self) -> list[str]:
        return [f["wrong"] for f in self.said("report").json()["findings"] if f["severity"] != "note"]
