"""Sending what a device tells to a job of the running application, which shows it as it comes."""

from __future__ import annotations

import http.client
import time
import urllib.error
import urllib.parse
import urllib.request
from dataclasses import dataclass
from http.cookiejar import CookieJar

from gale_nook.core.errors import BadInput

EVERY_S = 1.0
PATIENCE_S = 10.0
NAME_LENGTH = 60  # of a device; of a long path the end tells more
MOST_HELD = 5_000  # lines that wait while nobody answers; the file has them all
COOKIE, HEADER = "csrftoken", "x-csrftoken"
REFUSED = "The application does not take the readings: "


@dataclass(frozen=True, slots=True)
class SignIn:
    """Who signs in to a workshop; digits of the second factor where there is one."""

    name: str
    passphrase: str
    digits: str = ""


class Sender:
    """Sends lines to a job, a second's worth at a time. While the application does not answer they
    wait, and go with the next.

    Args:
        who: signs in, where the application is a workshop's.

    Raises:
        BadInput: there is no such job, it does not take them, or nobody is let in.
    """

    def __init__(self, address: str, device: str, who: SignIn | None = None) -> None:
        parts = urllib.parse.urlsplit(address)
        if parts.scheme not in {"http", "https"} or not parts.netloc:
            problem = "Give the address of the job's page, with http:// in front."
            raise BadInput("address", address, problem)
        job = "/".join(parts.path.split("/")[:3])
        self._site = f"{parts.scheme}://{parts.netloc}"
        self._url = f"{self._site}{job}/firing"
        self._cookies = CookieJar()
        self._open = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self._cookies)
        ).open
        self._waiting: list[str] = []
        self._last = time.monotonic()
        self._signed_in = who is not None
        if who is not None:
            self._sign_in(who)
        self._asked("", None)
        self._asked("/live/begin", {"source": device[-NAME_LENGTH:]})

    def send(self, line: bytes) -> None:
        """Send a line, now or with the next."""
        self._waiting.append(line.decode("utf-8", "replace").strip())
        del self._waiting[:-MOST_HELD]
        if time.monotonic() - self._last >= EVERY_S:
            self.close()

    def end(self) -> None:
        """Send what still waits, and sign out."""
        self.close()
        if self._signed_in:
            self._ask(self._site + "/sign-out", {})

    def close(self) -> None:
        """Send what still waits."""
        self._last = time.monotonic()
        if not self._waiting:
            return
        try:
            self._asked("/live/lines", {"lines": "\n".join(self._waiting)})
        except (urllib.error.URLError, http.client.HTTPException, TimeoutError):
            return  # they go with the next
        self._waiting = []

    def _sign_in(self, who: SignIn) -> None:
        self._ask(self._site + "/sign-in", None)
        told = {"name": who.name, "passphrase": who.passphrase, "digits": who.digits}
        self._ask(self._site + "/sign-in", told, "You are not let in: ")

    def _asked(self, path: str, fields: dict[str, str] | None) -> None:
        self._ask(self._url + path, fields)

    def _ask(self, url: str, fields: dict[str, str] | None, refused: str = REFUSED) -> None:
        data = urllib.parse.urlencode(fields).encode() if fields is not None else None
        token = next((cookie.value for cookie in self._cookies if cookie.name == COOKIE), "")
        headers = {HEADER: token or "", "hx-request": "true"}
        request = urllib.request.Request(url, data, headers)
        try:
            with self._open(request, timeout=PATIENCE_S):
                return
        except urllib.error.HTTPError as error:
            raise BadInput("address", url, refused + _told(error)) from None
        except urllib.error.URLError as error:
            if url.endswith("/live/lines"):
                raise
            problem = f"Nobody answers there: {error.reason}."
            raise BadInput("address", url, problem) from None


def _told(error: urllib.error.HTTPError) -> str:
    """What an answer says, without its tags."""
    text = error.read(4000).decode("utf-8", "replace")
    words, inside = [], False
    for each in text:
        inside = each == "<" or (inside and each != ">")
        words.append(" " if inside or each == ">" else each)
    return " ".join("".join(words).split())[:200] or str(error.code)
