"""Endpoints declared once: path, body and answer. From the same declaration come validation and the OpenAPI
document."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from apispec import APISpec
from flask import Blueprint, Response, request
from pydantic import BaseModel, TypeAdapter, ValidationError

from reamer import __version__
from reamer.core.answer.say import UnitSystem
from reamer.core.reading import MOST_BYTES, all_errors, parse
from reamer.web.problems import Invalid, Problem


@dataclass(frozen=True, slots=True)
class Sent:
    """A file that is sent as it is: of which kind, and how many bytes it may have."""

    kind: str
    most: int


@dataclass(frozen=True, slots=True)
class Endpoint:
    """One operation of the API."""

    method: str
    path: str
    name: str
    summary: str
    body: type[BaseModel] | None
    returns: TypeAdapter[Any] | None
    sent: Sent | None = None


REGISTRY: dict[str, Endpoint] = {}
# A plan as large as one may be can be sent, with what stands round it in a body.
AROUND = 10_000


T = TypeVar("T")


def validated(read: Callable[[Any], T], data: Any) -> T:
    """What is read of a request's data. Raises Invalid with every field that is wrong, in the units in view."""
    try:
        return read(data)
    except ValidationError as e:
        in_view: UnitSystem = "us" if request.headers.get("X-Units") == "us" else "metric"
        raise Invalid(all_errors(e, data, system=in_view)) from None


V = TypeVar("V", bound=Callable[..., Any])


def endpoint(
    bp: Blueprint,
    method: str,
    path: str,
    returns: Any = None,
    body: type[BaseModel] | None = None,
    sent: Sent | None = None,
) -> Callable[[V], V]:
    """Declare a view: its body is validated before it is called, its answer is written by its declared type.

    sent: the file that is the body"""

    def declare(view: V) -> V:
        adapter: TypeAdapter[Any] | None = TypeAdapter(returns) if returns is not None else None
        REGISTRY[view.__name__] = Endpoint(
            method, (bp.url_prefix or "") + path, view.__name__, (view.__doc__ or "").strip(), body, adapter, sent
        )

        def run(**path_values: Any) -> Response:
            if body is not None:
                data = parse(request.get_data(), MOST_BYTES + AROUND)
                path_values["body"] = validated(body.model_validate, data)
            answer = view(**path_values)
            # What is written already goes as it is.
            if isinstance(answer, Response):
                return answer
            if adapter is None:
                return Response(status=204)
            return Response(adapter.dump_json(answer), content_type="application/json")

        run.__name__ = view.__name__
        bp.add_url_rule(path, view.__name__, run, methods=[method])
        return view

    return declare


def sent_to(endpoint: str | None) -> Sent | None:
    """The file that an endpoint, as Flask names it, takes; None where it takes none."""
    found = REGISTRY.get((endpoint or "").rpartition(".")[2])
    return found.sent if found is not None else None


def openapi() -> dict[str, Any]:
    """The OpenAPI document of every declared endpoint."""
    spec = APISpec("Reamer", __version__, "3.1.0", info={"description": "The local API behind Reamer's screens."})
    adapters: list[tuple[str, Any, TypeAdapter[Any]]] = [("problem", "serialization", TypeAdapter(Problem))]
    for e in REGISTRY.values():
        if e.body:
            adapters.append((f"{e.name}.body", "serialization", TypeAdapter(e.body)))
        if e.returns:
            adapters.append((f"{e.name}.returns", "serialization", e.returns))
    refs, definitions = TypeAdapter.json_schemas(adapters, ref_template="#/components/schemas/{model}")
    for name, schema in definitions.get("$defs", {}).items():
        spec.components.schema(name, schema)
    for e in sorted(REGISTRY.values(), key=lambda e: (e.path, e.method)):
        names = re.findall(r"<(?:\w+:)?(\w+)>", e.path)
        operation: dict[str, Any] = {
            "operationId": e.name,
            "summary": e.summary,
            "parameters": [{"name": n, "in": "path", "required": True, "schema": {"type": "string"}} for n in names],
            "responses": {
                "default": _content("A problem", refs["problem", "serialization"], "application/problem+json")
            },
        }
        if e.body:
            operation["requestBody"] = {**_content("", refs[f"{e.name}.body", "serialization"]), "required": True}
            del operation["requestBody"]["description"]
        if e.sent:
            operation["requestBody"] = {"content": {e.sent.kind: {}}, "required": True}
        if e.returns:
            operation["responses"]["200"] = _content("Done", refs[f"{e.name}.returns", "serialization"])
        else:
            operation["responses"]["204"] = {"description": "Done"}
        spec.path(re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", e.path), operations={e.method.lower(): operation})
    return spec.to_dict()


def _content(description: str, schema: dict[str, Any], kind: str = "application/json") -> dict[str, Any]:
    return {"description": description, "content": {kind: {"schema": schema}}}
