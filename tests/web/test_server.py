"""The server under load it would refuse: bodies too large, in chunks, and connections that never say what they want."""

import http.client
import socket
import tempfile
import threading
from contextlib import closing, suppress
from unittest import mock

from django.test import SimpleTestCase, override_settings
from waitress.wasyncore import close_all

from pneumen.web.site import server

MOST = 100_000
A_WAIT_S = 60


@override_settings(MOST_UPLOAD_BYTES=MOST)
class TheServer(SimpleTestCase):
    def setUp(self):
        self.enterContext(mock.patch.object(tempfile, "tempdir", tempfile.gettempdir()))
        self.enterContext(mock.patch.multiple(server, MOST_CONNECTIONS=20, IDLE_S=4))
        self.bodies = []
        self.server = server.server_for(self.answer, "127.0.0.1", 0)
        self.port = self.server.effective_port
        thread = threading.Thread(target=self.server.run, daemon=True)
        thread.start()
        self.addCleanup(thread.join, A_WAIT_S)
        self.addCleanup(self.stop)
        self.addCleanup(self.server.task_dispatcher.shutdown)

    def stop(self):
        """End the loop from within: it ends once nothing is open in it, and may do so before the bell has rung out."""
        with suppress(OSError):
            self.server.trigger.pull_trigger(lambda: close_all(self.server._map))

    def answer(self, environ, start_response):
        self.bodies.append((environ.get("CONTENT_LENGTH"), len(environ["wsgi.input"].read())))
        start_response("200 OK", [("Content-Type", "text/plain")])
        return [b"answered"]

    def connect(self):
        return closing(http.client.HTTPConnection("127.0.0.1", self.port, timeout=A_WAIT_S))

    def post(self, body):
        with self.connect() as connection:
            connection.request("POST", "/", body=body)
            return connection.getresponse().read()

    def test_a_body_that_fits_arrives(self):
        self.assertEqual(self.post(b"x" * MOST), b"answered")
        self.assertEqual(self.bodies, [(str(MOST), MOST)])

    def test_one_too_large_is_sent_whole_and_answered_but_kept_nowhere(self):
        self.assertEqual(self.post(b"x" * (MOST * 7)), b"answered")
        self.assertEqual(self.bodies, [(str(MOST * 7), 0)])

    def test_one_absurdly_large_is_not_waited_for(self):
        with socket.create_connection(("127.0.0.1", self.port), timeout=A_WAIT_S) as sender:
            sender.sendall(f"POST / HTTP/1.1\r\nHost: here\r\nContent-Length: {MOST * 9}\r\n\r\n".encode())
            self.assertIn(b" 413 ", sender.recv(200))
        self.assertEqual(self.bodies, [])

    def test_a_body_in_chunks_is_not_taken(self):
        with socket.create_connection(("127.0.0.1", self.port), timeout=A_WAIT_S) as sender:
            sender.sendall(b"POST / HTTP/1.1\r\nHost: here\r\nTransfer-Encoding: chunked\r\n\r\n1\r\nx\r\n")
            self.assertIn(b" 501 ", sender.recv(200))
        self.assertEqual(self.bodies, [])

    def test_half_open_connections_do_not_keep_others_out(self):
        for _ in range(server.MOST_CONNECTIONS + 5):
            half = self.enterContext(socket.create_connection(("127.0.0.1", self.port), timeout=A_WAIT_S))
            half.sendall(b"GET / HT")
        self.assertEqual(self.post(b""), b"answered")
