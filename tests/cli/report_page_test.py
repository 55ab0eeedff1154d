"""Opens a report in headless Chromium, as a reader would: no errors, no outside requests; hovers, selects, prints.

    report_page_test.py AVREK FOLDER
"""
import base64
import json
import pathlib
import re
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request


class Browser:
    """A session of chromedriver, by the WebDriver protocol."""

    def __init__(self, folder):
        self.driver = subprocess.Popen(["chromedriver", "--port=0"], stdout=subprocess.PIPE, text=True)
        port = None
        for line in self.driver.stdout:
            found = re.search(r"started successfully on port (\d+)", line)
            if found:
                port = found.group(1)
                break
        assert port, "chromedriver does not start"
        self.base = f"http://127.0.0.1:{port}"
        arguments = ["--headless=new", "--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-quic",
                     "--disable-background-networking", "--disable-component-update", "--disable-sync",
                     "--window-size=1280,900", f"--user-data-dir={folder}"]
        options = {"binary": "/usr/bin/chromium", "args": arguments}
        wanted = {"goog:chromeOptions": options, "goog:loggingPrefs": {"browser": "ALL", "performance": "ALL"}}
        self.session = self.call("POST", "/session", {"capabilities": {"alwaysMatch": wanted}})["sessionId"]

    def call(self, method, path, body=None):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.base + path, method=method, data=data,
                                         headers={"Content-Type": "application/json"})
        with urllib.request.urlopen(request, timeout=120) as answer:
            return json.load(answer)["value"]

    def do(self, method, path, body=None):
        return self.call(method, f"/session/{self.session}{path}", body)

    def run(self, script):
        return self.do("POST", "/execute/sync", {"script": script, "args": []})

    def move(self, x, y):
        steps = [{"type": "pointerMove", "duration": 0, "x": round(x), "y": round(y)}]
        pointer = {"type": "pointer", "id": "mouse", "parameters": {"pointerType": "mouse"}, "actions": steps}
        self.do("POST", "/actions", {"actions": [pointer]})

    def close(self):
        try:
            self.do("DELETE", "")
        except urllib.error.URLError:
            pass
        self.driver.terminate()
        self.driver.wait()


def choose(browser, id, text):
    """Selects an option as a reader does, with the keyboard."""
    found = browser.do("POST", "/element", {"using": "css selector", "value": f"#{id}"})
    element = next(iter(found.values()))
    browser.do("POST", f"/element/{element}/value", {"text": text})


def main(avrek, folder):
    folder = pathlib.Path(folder)
    folder.mkdir(parents=True, exist_ok=True)
    overlay = folder / "overlay.toml"
    overlay.write_text("[weapon.thorn-rifle]\ndamage = 27\n")
    page = folder / "report.html"
    subprocess.run([avrek, "report", "thorn-rifle", "amber-rail", "--overlay", overlay, "--page", page,
                    "--at", "5,10,20", "--points", "32"], check=True)
    text = page.read_text()
    assert not re.search(r'(?:src|href)="(?!#|data:)', text), "the page asks for something outside of it"
    with tempfile.TemporaryDirectory() as profile:
        browser = Browser(profile)
        try:
            browser.do("POST", "/url", {"url": page.resolve().as_uri()})
            for _ in range(100):
                if browser.run("return document.body.dataset.ready") == "yes":
                    break
                time.sleep(0.05)
            assert browser.run("return document.body.dataset.ready") == "yes"
            errors = browser.do("POST", "/se/log", {"type": "browser"})
            assert not errors, errors
            requests = [json.loads(entry["message"])["message"] for entry in
                        browser.do("POST", "/se/log", {"type": "performance"})]
            outside = [one["params"]["request"]["url"] for one in requests
                       if one["method"] == "Network.requestWillBeSent"
                       and not one["params"]["request"]["url"].startswith(("file:", "data:", "chrome:"))]
            assert not outside, outside

            # Hovering over a point of a chart shows what it stands for.
            place = browser.run("""
                document.getElementById('ttk').scrollIntoView({block: 'center'});
                const chart = Chart.getChart('ttk');
                const point = chart.getDatasetMeta(0).data[1];
                const frame = chart.canvas.getBoundingClientRect();
                return [frame.left + point.x, frame.top + point.y];""")
            browser.move(*place)
            tip = browser.run("const tip = Chart.getChart('ttk').tooltip; return [tip.opacity, tip.title[0]];")
            assert tip[0] > 0 and tip[1] == "thorn-rifle at 10 m", tip

            # Choosing another weapon and distance changes the curves, and the words under them.
            before = browser.run("return JSON.stringify(Chart.getChart('cdf').data.datasets[0].data)")
            choose(browser, "cdf-weapon", "amber-rail")
            choose(browser, "cdf-distance", "20 m")
            after = browser.run("return JSON.stringify(Chart.getChart('cdf').data.datasets[0].data)")
            assert before != after
            words = browser.run("return document.getElementById('cdf-words').textContent")
            assert words.startswith("amber-rail at 20 m."), words

            # Taking a weapon out takes its line out.
            lines = browser.run("return Chart.getChart('ttk').data.datasets.length")
            browser.run("document.getElementById('ttk-amber-rail').click()")
            assert browser.run("return Chart.getChart('ttk').data.datasets.length") == lines - 1

            # A field of the board says all of its chances.
            field = browser.run("""
                document.getElementById('board').scrollIntoView({block: 'center'});
                const frame = document.querySelectorAll('#board td.cell')[1].getBoundingClientRect();
                return [frame.left + frame.width / 2, frame.top + frame.height / 2];""")
            browser.move(*field)
            said = browser.run("return document.getElementById('duel-words').textContent")
            assert said.startswith("thorn-rifle against amber-rail"), said

            # What the overlay changes is there, and it can be printed.
            assert browser.run("return document.getElementById('after').hidden") is False
            assert "27" in browser.run("return document.getElementById('change-table').textContent")
            printed = base64.b64decode(browser.do("POST", "/print", {}))
            assert printed.startswith(b"%PDF")
            errors = browser.do("POST", "/se/log", {"type": "browser"})
            assert not errors, errors
        finally:
            browser.close()


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2])
