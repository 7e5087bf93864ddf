"""What the pages are built against: the OpenAPI of the server, and the vocabulary it serves.

`./keen types` runs this; `web/src/lib/api/schema.d.ts` and `terms.ts` are made from what it prints,
and a test holds both against it.
"""

import json
import sys
from pathlib import Path

from ..usecases.pages.terms import plain
from .app import create_app

TERMS_HEAD = """\
// Made by ./keen types from core/terms.py and core/tables: what GET /api/terms serves.
import type { Schemas } from './client';

export const TERMS = """


def openapi() -> str:
    """The OpenAPI description as JSON; no database is asked."""
    return json.dumps(create_app("postgresql://nowhere/none", Path("none")).openapi())


def terms_module() -> str:
    """The vocabulary as a TypeScript module, before prettier has laid it out."""
    said = json.dumps(plain(), ensure_ascii=False)
    return f"{TERMS_HEAD}{said} as const satisfies Schemas['Terms'];\n"


def main() -> None:
    """Write openapi.json and terms.ts into the folder named on the command line."""
    web = Path(sys.argv[1])
    (web / "openapi.json").write_text(openapi(), encoding="utf-8")
    (web / "src" / "lib" / "api" / "terms.ts").write_text(terms_module(), encoding="utf-8")


if __name__ == "__main__":
    main()
