"""Write the generated files: OpenAPI, TypeScript types, field labels, plan schema.

``python tools/generate.py`` writes them; with ``--check`` it changes nothing and exits 1 where one of
them is not what it would write.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from dataclasses import asdict
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
GENERATED = ROOT / "frontend" / "src" / "generated"
FROZEN = ROOT / "core" / "larder" / "plan" / "tests" / "old"


def openapi() -> dict[str, Any]:
    """The API's schema as the server would serve it."""
    import django

    django.setup()
    from grandlarder.api import api

    return json.loads(json.dumps(api.get_openapi_schema(path_prefix="/api/")))


def texts() -> dict[Path, str]:
    """Every generated file and its text."""
    from larder.asks.diagnosis.readings import Seen
    from larder.asks.starting_points import STARTING_POINTS
    from larder.base.measures import SIGNS
    from larder.laws.layout import GROUPED_NAMES, LAYOUTS, parse_layout
    from larder.plan.cautions import CAUTIONS
    from larder.plan.formats import PUBLISHED_CLASSES
    from larder.plan.glossary import bundle_schema, fields
    from larder.plan.house_rules import RULE_REASONS
    from larder.plan.layout_words import words_of
    from larder.plan.trade_terms import trade_terms
    from larder.readers.brief_line import brief_schema
    from larder.stages.registry import STAGES
    from larder.stock.item import StockItem

    schema = _text(openapi())
    names = (*LAYOUTS, *(f"{name}:2" for name in GROUPED_NAMES))
    layouts = {name: words_of(parse_layout(name)) for name in names}
    return {
        GENERATED / "openapi.json": schema,
        GENERATED / "api.d.ts": _types(schema),
        GENERATED / "fields.json": _text(fields(StockItem, Seen)),
        GENERATED / "layouts.json": _text(layouts),
        GENERATED / "published.json": _text([each.model_dump() for each in PUBLISHED_CLASSES]),
        GENERATED / "stages.json": _text([stage_entry(stage) for stage in STAGES]),
        GENERATED / "starting-points.json": _text(
            [{"id": each.id, "title": each.title, "line": each.line} for each in STARTING_POINTS]
        ),
        GENERATED / "terms.json": _text([term.model_dump() for term in trade_terms()]),
        GENERATED / "cautions.json": _text(CAUTIONS),
        GENERATED / "units.json": _text({unit: asdict(sign) for unit, sign in SIGNS.items()}),
        GENERATED / "rules.json": _text(RULE_REASONS),
        ROOT / "docs" / "bundle.schema.json": _text(bundle_schema()),
        ROOT / "docs" / "brief.schema.json": _text(brief_schema()),
        ROOT / "docs" / "glossary.md": glossary(fields(StockItem), trade_terms()),
        **demos_of_today(),
    }


def demos_of_today() -> dict[Path, str]:
    """The demos of an older schema in today's; the first of them stays frozen as it was, for the tests."""
    from larder.plan.upgrade import NEWEST, upgraded

    texts: dict[Path, str] = {}
    for path in sorted((ROOT / "demo").glob("*.json")):
        was = path.read_text()
        document = json.loads(was)
        if document["schema"] == NEWEST:
            continue
        frozen = FROZEN / f"bundle-{document['schema'].rpartition('/')[2]}.json"
        if path.stem == "tern-and-tide" and not frozen.exists():
            texts[frozen] = was
        texts[path] = json.dumps(upgraded(document).document, indent=1, ensure_ascii=False) + "\n"
    return texts


def glossary(labels: dict[str, dict[str, Any]], terms: tuple[Any, ...]) -> str:
    """The trade's terms, then every labelled field by its thing, with its unit and what is accepted."""
    lines = [
        "# Glossary",
        "",
        "The words of the trade, and those of the plan file and of the stock, as the page labels them.",
        "Written by `tools/generate.py` from `trade_terms.toml` and from the labels beside the fields;",
        "change them there.",
        "",
        "## The trade's terms",
        "",
        *(f"- **{term.term}**: {term.what} {term.why}" for term in terms),
    ]
    last = ""
    for name, entry in sorted(labels.items(), key=lambda pair: pair[0].split(".", 1)[0]):
        thing, field = name.split(".", 1)
        if thing != last:
            lines += ["", f"## {thing}", "", "| label | field | unit | accepted |", "|---|---|---|---|"]
            last = thing
        lines.append(f"| {entry['label']} | `{field}` | {entry['unit']} | {_accepted(entry)} |")
    return "\n".join(lines) + "\n"


def _accepted(entry: dict[str, Any]) -> str:
    if entry.get("type") == "yesno":
        return "yes or no"
    if "choices" in entry:
        return ", ".join(str(choice) or "(none)" for choice in entry["choices"])
    from larder.base.measures import SIGNS

    factor = max(SIGNS[entry["unit"]].factor, 1)
    said = {"min": "{:g} or more", "above": "above {:g}", "max": "at most {:,.12g}", "below": "below {:g}"}
    bounds = [words.format(entry[key] / factor) for key, words in said.items() if key in entry]
    return "; ".join(bounds) or {"date": "a date", "text": "a text"}.get(entry.get("type", ""), "")


def stage_entry(stage: Any) -> dict[str, Any]:
    """What navigation has to know of a stage."""
    return {key: getattr(stage, key) for key in ("id", "number", "title", "is_of_studio")}


def _text(value: Any) -> str:
    return json.dumps(value, indent=1, ensure_ascii=False) + "\n"


def _types(schema: str) -> str:
    program = ROOT / "frontend" / "node_modules" / ".bin" / "openapi-typescript"
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder, "openapi.json"), Path(folder, "api.d.ts")
        source.write_text(schema)
        names = ("--root-types", "--root-types-no-schema-prefix")
        command = [str(program), str(source), "-o", str(target), *names]
        subprocess.run(command, check=True, capture_output=True)
        return target.read_text()


def main(arguments: list[str]) -> int:
    """Write or check; returns the exit status."""
    sys.path[:0] = [str(ROOT / "core"), str(ROOT / "server")]
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "grandlarder.settings.test")
    generated = texts()
    stale = [path for path, text in generated.items() if not path.exists() or path.read_text() != text]
    for path in stale:
        name = path.relative_to(ROOT)
        if "--check" in arguments:
            print(f"not up to date: {name}; run tools/generate.py")
        else:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(generated[path])
            print(f"written: {name}")
    return 1 if stale and "--check" in arguments else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
