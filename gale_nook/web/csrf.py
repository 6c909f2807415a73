"""Forms of other sites are refused; a page that was open when this was started anew is not.

The page sends its cookie back in a header. A token signed by another key, as after a data folder
was made anew, is replaced without a word where the browser itself vouches that the form is ours.
"""

from __future__ import annotations

import secrets

from itsdangerous import BadSignature
from starlette.datastructures import Headers
from starlette.requests import Request
from starlette.responses import PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send
from starlette_csrf.middleware import CSRFMiddleware

COOKIE = "csrftoken"
HEADER = "x-csrftoken"
REFUSED = (
    "This form did not come from an open page of this application. Reload the page, then "
    "send it again."
)


class FormGuard(CSRFMiddleware):
    """Asks every request that changes something for the token of its page.

    Args:
        secret: that every process behind the same database shares, and that outlives them.
    """

    def __init__(self, app: ASGIApp, secret: str) -> None:
        super().__init__(
            app, secret, cookie_samesite="strict", cookie_name=COOKIE, header_name=HEADER
        )

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        request = Request(scope)
        cookie, sent = request.cookies.get(COOKIE, ""), request.headers.get(HEADER, "")
        known = self._is_ours(cookie)
        allowed = request.method in self.safe_methods or (
            bool(sent)
            and secrets.compare_digest(cookie.encode(), sent.encode())
            and (known or same_origin(request.headers))
        )
        answer = send if known else self._with_fresh_cookie(send)
        if allowed:
            await self.app(scope, receive, answer)
        else:
            await self._get_error_response(request)(scope, receive, answer)

    def _is_ours(self, token: str) -> bool:
        try:
            self.serializer.loads(token)
        except BadSignature:
            return False
        return True

    def _with_fresh_cookie(self, send: Send) -> Send:
        async def fresh(message: Message) -> None:
            if message["type"] == "http.response.start":
                cookie = f"{COOKIE}={self._generate_csrf_token()}; Path=/; SameSite=Strict"
                message["headers"] = [*message.get("headers", ()), (b"set-cookie", cookie.encode())]
            await send(message)

        return fresh

    def _get_error_response(self, request: Request) -> Response:
        return PlainTextResponse(REFUSED, 403)


def same_origin(headers: Headers) -> bool:
    """Return whether the browser says that the request comes from a page of ours; no script can
    make it say so.
    """
    site = headers.get("sec-fetch-site")
    if site is not None:
        return site == "same-origin"
    origin = headers.get("origin", "")
    return origin.partition("://")[2] == headers.get("host", "?")
