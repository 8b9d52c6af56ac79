"""The field book in a real browser without a screen: ticked, reloaded, given back, and read into the job again."""

from __future__ import annotations

import json
import re
import shutil
from datetime import datetime
from pathlib import Path

import pytest
from builders import called_out, house
from msgspec.structs import replace

from robust_ledger.callout.session import replay
from robust_ledger.changeover import clock
from robust_ledger.changeover.live import live
from robust_ledger.cli import main
from robust_ledger.fieldbook.book import book_data, book_html, write_book
from robust_ledger.job.edits import with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.readers.torques import read_torques
from robust_ledger.load.edition import codebook_of
from robust_ledger.plan import plan

EXAMPLES = Path(__file__).parents[2] / "examples"
DEMO = read_job(EXAMPLES / "marrow-lane.ledger.json")
BROWSER, DRIVER = shutil.which("chromium"), shutil.which("chromedriver")


def small():
    job = called_out(house(1500), "1 20 12 hall", "3 15 14 den")
    job = with_part(job, "scope", service="kept", panel_place="same")
    job = with_part(job, "grounding", rods=2, rod_length_ft=8.0, rod_spacing_ft=8.0)
    job = with_part(
        job, "panel", torques=read_torques("breaker: 20; neutral bar: 20; ground bar: 20; main: 250; lug: 250")
    )
    return with_part(job, "day", inspection="another_day", lunch_min=0)


def test_it_is_one_small_file_that_asks_nobody():
    text = book_html(plan(DEMO))
    assert len(text.encode()) < 600_000 and "default-src 'none'" in text
    assert not re.search(r"(?:src|href)=|https?://|@import|url\(", text), "nothing comes from elsewhere"
    hostile = replace(DEMO, heading=DEMO.heading.changed(title="</script><script>alert(1)</script>"))
    inside = re.search(r'id="data">(.*?)</script>', book_html(plan(hostile)), re.S)
    assert json.loads(inside[1])["title"] == "</script><script>alert(1)</script>", "what was typed stays text"


def test_what_stands_in_it_is_the_plans():
    made = plan(DEMO)
    data = book_data(made)
    assert len(data["torque"]) == len(made.changeover.terminations) and len(data["circuits"]) == 32
    assert {one["tag"] for one in data["tags"]} >= {str(one.tag) for one in DEMO.circuits if not one.off}
    assert [one["panel"] for one in data["directory"]] == ["main panel", "detached garage panel"]
    assert any(one["label"] == "Main breaker" or "150 A" in one["value"] for one in data["working"])
    assert "Dark" in data["day"] and book_data(plan(house(1500)))["tasks"] == []


@pytest.fixture
def phone(tmp_path):
    """The book of a small job, open in a browser of a phone's size."""
    if not (BROWSER and DRIVER):
        pytest.skip("no Chromium with its driver on this machine; make setup brings them")
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    options.binary_location = BROWSER
    for one in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage"):
        options.add_argument(one)
    options.add_argument(f"--user-data-dir={tmp_path / 'profile'}")
    driver = webdriver.Chrome(options=options, service=webdriver.ChromeService(DRIVER))
    driver.implicitly_wait(3)
    metrics = {"width": 412, "height": 915, "deviceScaleFactor": 1, "mobile": True}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    driver.get(write_book(plan(small()), tmp_path / "book.html").as_uri())
    yield driver
    driver.quit()


def tab(phone, name: str) -> None:
    phone.find_element("xpath", f"//nav/button[.='{name}']").click()


def tap(phone, path: str) -> None:
    one = phone.find_element("xpath", path)
    phone.execute_script("arguments[0].scrollIntoView({block: 'center'})", one)
    one.click()


def typed(phone, path: str, text: str) -> None:
    box = phone.find_element("xpath", path)
    phone.execute_script("arguments[0].scrollIntoView({block: 'center'})", box)
    box.clear()
    box.send_keys(text, "\t")


def test_a_day_on_the_phone_comes_back_into_the_job(phone, monkeypatch):
    """Ticked, the page loaded anew, read back: the photographs, the hold, a torque, the voltages."""
    tap(phone, "//div[@data-task='photographs']//button[.='Begin']")
    tap(phone, "//div[@data-task='photographs']//button[.='Done']")
    tab(phone, "Holds")
    typed(phone, "//input[@aria-label='Your name, to sign']", "Marta")
    for row in phone.find_elements("xpath", "//h2[.='Proven dead']/following-sibling::div[position() <= 8]"):
        phone.execute_script("arguments[0].scrollIntoView({block: 'center'})", row)
    items = next(one for one in book_data(plan(small()))["holds"] if one["id"] == "dead")["items"]
    for item in items:
        at = f"//h2[.='Proven dead']/following-sibling::div[{item['n']}]"
        if item["reading"]:
            typed(phone, f"{at}//input", "0.1" if "worked at" in item["words"] or "same" in item["words"] else "121")
        else:
            tap(phone, f"{at}//button")
    tap(phone, "(//button[.='Sign'])[1]")
    phone.refresh()
    assert phone.find_element("xpath", "//nav/button[@aria-selected='true']").text == "Holds", "kept over a reload"
    tab(phone, "Torque")
    tap(phone, "//div[@data-torque='tag:1.hot1']//button[.='1st']")
    tap(phone, "//div[@data-torque='tag:1.hot1']//button[.='2nd']")
    tap(phone, "//div[@data-torque='tag:1.hot1']//button[.='✓']")
    tab(phone, "Volts")
    for words, figure in (("leg to leg", "243"), ("left", "121"), ("right", "122"), ("neutral to ground", "0.1")):
        typed(phone, f"//input[@aria-label='Line side of the meter, {words}']", figure)
    tap(phone, "(//button[.='Note'])[1]")
    tab(phone, "Send")
    lines = phone.find_element("id", "lines").get_attribute("value").splitlines()
    now = datetime.now().astimezone()
    monkeypatch.setattr(clock, "now", lambda: now)
    job = small()
    after, outcomes = replay(lines, job, codebook_of(job), "")
    assert [one.fault for one in outcomes if one.fault] == []
    record = after.record
    assert [(one.kind, one.task) for one in record.events] == [("start", "photographs"), ("done", "photographs")]
    assert (
        record.holds["dead"].signed_by == "Marta"
        and record.torque.rows["tag:1.hot1"].second == 20
        and record.torque.rows["tag:1.hot1"].marked
    )
    assert (record.readings[0].point, record.readings[0].leg_to_leg) == ("line", 243)
    assert live(plan(after).changeover, now).plan.day.slot("photographs").done


def test_a_tag_is_looked_up_and_the_directory_read(phone):
    tab(phone, "Tags")
    typed(phone, "//input[@aria-label='Find a tag, a space or words']", "2")
    rows = phone.find_elements("xpath", "//main//div[@class='row']")
    assert len(rows) == 1 and "den" in rows[0].text and "3 →" in rows[0].text
    tab(phone, "Panel")
    assert "hall" in phone.find_element("tag name", "main").text
    tab(phone, "Figures")
    assert "stays live" in phone.find_element("tag name", "main").text
    assert [one for one in phone.get_log("browser") if one["level"] == "SEVERE"] == []


def test_thumbs_and_both_lights(phone):
    """Every key is 44 pixels at the least; dark is told by the phone."""
    for name in ("Day", "Holds", "Torque", "On"):
        tab(phone, name)
        for one in phone.find_elements("xpath", "//main//button")[:12]:
            assert one.size["height"] >= 44 and one.size["width"] >= 44, name
        assert phone.execute_script("return document.documentElement.scrollWidth") <= 412, name
    phone.execute_cdp_cmd(
        "Emulation.setEmulatedMedia", {"features": [{"name": "prefers-color-scheme", "value": "dark"}]}
    )
    assert phone.execute_script("return getComputedStyle(document.body).backgroundColor") == "rgb(14, 19, 22)"


def test_the_command_writes_it(capsys, tmp_path):
    path = tmp_path / "demo.ledger.json"
    write_job(DEMO, path)
    assert main(["fieldbook", str(path)]) == 0
    assert (tmp_path / "demo-field-book.html").exists() and "demo-field-book.html" in capsys.readouterr().out
