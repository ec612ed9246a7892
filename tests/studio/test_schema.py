"""What the API answers is what its schema says, so that the client's types can be trusted."""

from __future__ import annotations

from typing import Any

import jsonschema
import yaml
from django.conf import settings

from tests.studio.base import StudioTest

SCHEMA = yaml.safe_load((settings.BASE_DIR / "docs" / "openapi.yaml").read_text())


def for_json_schema(node: Any) -> Any:
    """OpenAPI's own words turned into JSON Schema's: nullable, and strict about unknown properties."""
    if isinstance(node, list):
        return [for_json_schema(n) for n in node]
    if not isinstance(node, dict):
        return node
    found = {k: for_json_schema(v) for k, v in node.items() if k not in ("nullable", "description", "format")}
    if found.get("type") == "object" and "properties" in found:
        found["additionalProperties"] = False
    if node.get("nullable"):
        return {"anyOf": [found, {"type": "null"}]}
    return found


COMPONENTS = for_json_schema(SCHEMA["components"])


class SchemaTest(StudioTest):
    def check(self, path: str, method: str, address: str, body: Any = None, status: str = "200") -> Any:
        answer = getattr(self.client, method)(f"/api/{address}", body, format="json")
        self.assertEqual(str(answer.status_code), status, answer.content[:300])
        content = SCHEMA["paths"][path][method]["responses"][status]["content"]["application/json"]
        wanted = {**for_json_schema(content["schema"]), "components": COMPONENTS}
        jsonschema.Draft202012Validator(wanted).validate(answer.json())
        return answer.json()

    def test_every_answer_fits_its_schema(self) -> None:
        b, k, i = self.good.pk, self.koi.pk, self.ink.pk
        swatch = {"on": {"lab": [95, 0, 2]}, "coats": 1, "lab": [60, 20, 10]}
        self.check("/api/session", "get", "session")
        self.check("/api/inks", "get", "inks?stock=kraft")
        self.check(
            "/api/inks", "post", "inks", {"name": "N", "chemistry": "pigment", "swatches": [swatch]}, "201"
        )
        self.check("/api/inks/{id}", "get", f"inks/{i}")
        self.check("/api/inks/{id}", "patch", f"inks/{i}", {"family": "Other"})
        self.check("/api/stocks", "get", "stocks")
        self.check("/api/recipes", "post", "recipes", {"stock": "kraft", "hex": "#40a060", "max_pads": 2})
        self.check("/api/sets", "get", "sets")
        self.check("/api/sets/{id}", "get", f"sets/{k}")
        edit = {"revision": 1, "kind": "add_seat", "values": {"of": 3, "dx": 4}}
        self.check("/api/sets/{id}/edits", "post", f"sets/{k}/edits", edit)
        self.check("/api/sets/{id}/measures", "get", f"sets/{k}/measures")
        self.check("/api/sets/{id}/trim", "get", f"sets/{k}/trim?width=90&height=120")
        self.check("/api/imports", "get", "imports")
        self.check("/api/builds", "get", "builds")
        self.check("/api/builds", "post", "builds", {"name": "N", "set_id": k, "stock": "black"}, "201")
        self.check("/api/builds/{id}", "get", f"builds/{self.good.build_id}")
        for one in (self.good, self.tried, self.fresh()):
            self.check("/api/colourings/{id}", "get", f"colourings/{one.pk}")
        edit = {"revision": 1, "kind": "set_cards", "values": {"cards": 4}}
        self.check("/api/colourings/{id}/edits", "post", f"colourings/{b}/edits", edit)
        self.check("/api/colourings/{id}/undo", "post", f"colourings/{b}/undo", {"revision": 2})
        self.check("/api/colourings/{id}/redo", "post", f"colourings/{b}/redo", {"revision": 3})
        self.check("/api/colourings/{id}/passes/{key}/tryouts", "get", f"colourings/{b}/passes/p3/tryouts")
        self.check("/api/colourings/{id}/table", "get", f"colourings/{b}/table")
        note = {"key": "k", "at": 1.0, "kind": "note", "body": {"text": "The lamp flickers."}}
        self.check(
            "/api/colourings/{id}/table", "post", f"colourings/{b}/table", {"making": 1, "events": [note]}
        )
        spoilt = {"what": "spoilt", "card": 1}
        self.check("/api/colourings/{id}/table/wrong", "post", f"colourings/{b}/table/wrong", spoilt)

    def test_the_schema_names_every_kind_of_step_edit_and_form(self) -> None:
        from strata.order.steps import KINDS
        from strata.plan.edits import EDITS
        from strata.plan.model import FORM_KINDS
        from strata.sheets.edits import EDITS as SET_EDITS

        parts = SCHEMA["components"]["schemas"]

        def choices(name: str, field: str) -> set[str]:
            node = parts[name]["properties"][field]
            reference = node.get("$ref") or node.get("allOf", [{}])[0].get("$ref")
            return set(parts[reference.rsplit("/", 1)[1]]["enum"] if reference else node["enum"])

        self.assertEqual(choices("Step", "kind"), set(KINDS))
        self.assertEqual(choices("EditRequest", "kind"), set(EDITS))
        self.assertEqual(choices("Form", "kind"), set(FORM_KINDS))
        self.assertEqual(choices("SetEditRequest", "kind"), set(SET_EDITS))
