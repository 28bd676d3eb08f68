"""A new, empty step needs its own folder, one line among the settings' apps and one in steps.py: nothing else."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]

FOLDER = {
    "__init__.py": "",
    "apps.py": """
from django.apps import AppConfig

class DrillConfig(AppConfig):
    name = "pneumen.web.drill"
    label = "drill"
""",
    "urls.py": """
from django.urls import path
from pneumen.web.drill import views

app_name = "drill"
urlpatterns = [path("drill/", views.page, name="page")]
""",
    "views.py": """
from django.shortcuts import render
from pneumen.web.song.views import with_part

@with_part
def page(request, part):
    return render(request, "drill/page.html", {"part": part})
""",
    "templates/drill/page.html": """
{% extends "base.html" %}
{% block main %}<h1>Drill</h1>{% endblock %}
""",
}
ASKING = """
import django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from django.test import Client
from pneumen.demo.load import load_demo
load_demo(fresh=False)
client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR="127.0.0.1")
for page in ("start", "part", "kit", "room", "place", "gain", "takes", "drill"):
    answer = client.get(f"/parts/1/{page}/")
    text = answer.content.decode()
    print(page, answer.status_code, text.count('href="/parts/1/drill/"'), "<td>d</td><td>go to Drill</td>" in text)
print(client.get("/parts/1/drill/").content.decode().count('href="/parts/2/drill/"'))
"""


class ANewStep(unittest.TestCase):
    def setUp(self):
        folder = Path(tempfile.mkdtemp(prefix="pneumen-step-"))
        self.addCleanup(shutil.rmtree, folder)
        self.source, self.data = folder / "src", folder / "data"
        shutil.copytree(ROOT / "src", self.source, ignore=shutil.ignore_patterns("__pycache__"))

    def add_line(self, path, before, line):
        file = self.source / "pneumen" / "web" / path
        text = file.read_text()
        self.assertEqual(text.count(before), 1)
        file.write_text(text.replace(before, line + before))

    def test_a_folder_and_two_lines(self):
        for name, text in FOLDER.items():
            file = self.source / "pneumen" / "web" / "drill" / name
            file.parent.mkdir(parents=True, exist_ok=True)
            file.write_text(text)
        self.add_line("site/settings.py", '    "pneumen.web.take",\n', '    "pneumen.web.drill",\n')
        self.add_line(
            "steps.py", '    Step(slug="take"', '    Step(slug="drill", label="Drill", place=7, shortcut="d"),\n'
        )
        environment = {**os.environ, "PYTHONPATH": str(self.source), "PNEUMEN_DATA": str(self.data)}
        environment["DJANGO_SETTINGS_MODULE"] = "pneumen.web.site.settings"
        done = subprocess.run(
            [sys.executable, "-c", ASKING], env=environment, capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        *pages, links = done.stdout.splitlines()
        for line in pages:  # it answers, stands on every thread, and its key is in every page's help
            page, status, threads, helped = line.split()
            self.assertEqual((status, helped), ("200", "True"), page)
            self.assertGreaterEqual(int(threads), 1, page)
        self.assertEqual(len(pages), 8)
        self.assertEqual(links, "1")  # the links of the other parts keep the step
