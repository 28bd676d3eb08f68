"""The program as people start it: another process on a folder of its own, asked over HTTP."""

import http.cookiejar
import os
import re
import signal
import socket
import subprocess
import sys
import threading
import urllib.error
import urllib.parse
import urllib.request
import uuid
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
A_WAIT_S = 120
FORM = re.compile(r'<form[^>]*action="([^"]+)"[^>]*>(.*?)</form>', re.S)
NAME = re.compile(r'name="([^"]+)"')
TOKEN = re.compile(r'name="csrfmiddlewaretoken" value="([^"]+)"')


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What came back, after any redirects that were followed; location is where one that was not leads."""

    status: int
    text: str
    path: str
    location: str


class _Stay(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *_):
        return None


def pneumen(*arguments, folder):
    """Run a command as people do; return its exit code and all it says."""
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
    command = [sys.executable, "-m", "pneumen", *map(str, arguments), "--data", str(folder)]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=False)
    return done.returncode, done.stdout + done.stderr


class Program:
    """The program on a data folder; it is ready once this is made."""

    def __init__(self, data):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.data, self.said = Path(data), []
        self.cookies, self._token = http.cookiejar.CookieJar(), ""
        command = [sys.executable, "-m", "pneumen", "demo", "--data", str(data), "--port", str(self.port)]
        self.process = subprocess.Popen(
            command,
            env={**os.environ, "PYTHONPATH": str(ROOT / "src"), "PYTHONUNBUFFERED": "1"},
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )
        for line in self.process.stdout:
            self.said.append(line)
            if "ready at" in line:
                break
        else:
            raise RuntimeError("".join(self.said))
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self):
        self.said.extend(self.process.stdout)

    def stop(self):
        """Have it end as Ctrl+C does."""
        self._end(signal.SIGINT)

    def kill(self):
        """End it as a power cut does, its worker likewise."""
        for pid in self.workers():
            os.kill(pid, signal.SIGKILL)
        self._end(signal.SIGKILL)

    def _end(self, how):
        self.process.send_signal(how)
        self.process.wait(A_WAIT_S)
        self.process.stdout.close()

    def workers(self):
        """Return the process ids of what it started."""
        told = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children")
        return [int(pid) for task in told.parent.parent.glob("*/children") for pid in task.read_text().split()]

    def peak_bytes(self, pid=None):
        """Return the most memory that the server, or another of its processes, has held so far."""
        status = Path(f"/proc/{pid or self.process.pid}/status").read_text()
        return int(re.search(r"VmHWM:\s+(\d+)", status)[1]) * 1024

    def get(self, path, headers=None):
        return self._ask(urllib.request.Request(self._url(path), headers=headers or {}))

    def post(self, path, data=None, *, file=None, field="recording", name="take.wav", follow=True):
        """Send a form with its token, and a file where one is given."""
        fields = {**(data or {}), "csrfmiddlewaretoken": self.token()}
        headers = {"Referer": self._url("/")}
        if file is None:
            body = urllib.parse.urlencode(fields, doseq=True).encode()
        else:
            border = uuid.uuid4().hex
            headers["Content-Type"] = f"multipart/form-data; boundary={border}"
            head = "".join(
                f'--{border}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{one}\r\n'
                for key, value in fields.items()
                for one in (value if isinstance(value, list) else [value])
            )
            head += f'--{border}\r\nContent-Disposition: form-data; name="{field}"; filename="{name}"\r\n\r\n'
            body = head.encode() + file + f"\r\n--{border}--\r\n".encode()
        return self._ask(urllib.request.Request(self._url(path), data=body, headers=headers), follow)

    def forms(self, path):
        """Yield where each form of a page leads, with the names of its fields."""
        for action, inside in FORM.findall(self.get(path).text):
            yield action, sorted(set(NAME.findall(inside)) - {"csrfmiddlewaretoken"})

    def token(self):
        if not self._token:
            self._token = TOKEN.search(self.get("/songs/").text)[1]
        return self._token

    def _url(self, path):
        return f"http://127.0.0.1:{self.port}{path}"

    def _ask(self, request, follow=True):
        kinds = [urllib.request.HTTPCookieProcessor(self.cookies), *([] if follow else [_Stay])]
        try:
            answer = urllib.request.build_opener(*kinds).open(request, timeout=A_WAIT_S)
        except urllib.error.HTTPError as refused:
            answer = refused
        with answer:
            text = answer.read().decode(errors="replace")
            path, location = urllib.parse.urlsplit(answer.url).path, answer.headers.get("Location", "")
            return Answer(status=answer.status, text=text, path=path, location=location)
