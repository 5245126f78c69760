"""`./emvar schema`: writes the plan's JSON Schema, the API's schema and the generated client; `--check` compares."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import django

ROOT = Path(__file__).resolve().parent.parent
CLIENT = ROOT / "web" / "src" / "api" / "schema.d.ts"


def wanted() -> dict[Path, str]:
    """The files that follow from the code, and what should be in them."""
    django.setup()
    from api.api import api
    from emvar_core.plan import Plan

    return {
        ROOT / "docs" / "plan.schema.json": json.dumps(Plan.model_json_schema(), indent=1, ensure_ascii=False) + "\n",
        ROOT / "web" / "openapi.json": json.dumps(api.get_openapi_schema(), indent=1, ensure_ascii=False) + "\n",
    }


def client(check: bool) -> str:
    command = ["npx", "--no-install", "openapi-typescript", "openapi.json"]
    if check:
        out = subprocess.run(command, cwd=ROOT / "web", capture_output=True, text=True, check=True).stdout
        return out
    subprocess.run([*command, "-o", str(CLIENT)], cwd=ROOT / "web", check=True)
    return ""


def main() -> int:
    check = "--check" in sys.argv[1:]
    stale = []
    for path, text in wanted().items():
        if check:
            if not path.exists() or path.read_text(encoding="utf-8") != text:
                stale.append(path)
        else:
            path.write_text(text, encoding="utf-8")
    if check and not stale:
        # The tool may frame its output; the file's own lines must all be there.
        made = client(check=True).strip()
        if not CLIENT.exists() or CLIENT.read_text(encoding="utf-8").strip() not in made:
            stale.append(CLIENT)
    elif not check:
        client(check=False)
    for path in stale:
        print(f"{path.relative_to(ROOT)} does not follow the code; run ./emvar schema")
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
