"""Endpoints that change something: each takes a form of its own model, which the interface's
description then shows.

Annotations are evaluated here: a form's model is known when an endpoint is made.
"""

from collections.abc import Awaitable, Callable
from typing import Annotated, Any, TypeVar

from fastapi import Depends, Form, Request

from gale_nook.web.context import Book, Db, EditRequest, Units
from gale_nook.web.forms import PageForm

F = TypeVar("F", bound=PageForm)


def edit_request(model: type[F]) -> Any:
    """Return the dependency of an endpoint that takes a form of a model: an Ask with it."""

    async def read(
        request: Request,
        db: Db,
        book: Book,
        system: Units,
        form: Annotated[model, Form()],  # type: ignore[valid-type]
    ) -> EditRequest[F]:
        return EditRequest(request, db, book, system, form)

    made: Callable[..., Awaitable[EditRequest[F]]] = read
    return Depends(made)
