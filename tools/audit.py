"""What ships, under which licences, and whether anything of it is known to be vulnerable: ``make audit``.

Writes audit/: licences.csv (Python and JavaScript), and a list of everything (SBOM, CycloneDX) for each. Ends with 1
where a vulnerability is known or a licence is not one of those that may ship.
"""

from __future__ import annotations

import csv
import json
import re
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
OUT = ROOT / "audit"
TOOLS = ROOT / ".venv-audit" / "bin"
MAY_SHIP = re.compile(
    r"MIT|BSD|Apache|ISC|PSF|Python Software|MPL|Mozilla|Zlib|CC0|Unlicense|0BSD|OFL|HPND|LGPL|Lesser|BlueOak|Python-2",
    re.IGNORECASE,
)


def run(*command: str, cwd: Path = ROOT) -> subprocess.CompletedProcess[str]:
    """A command with what it says."""
    return subprocess.run(command, cwd=cwd, capture_output=True, text=True, check=False)


def vulnerable() -> bool | None:
    """Whether something is known; None where nobody answers."""
    python = run(
        str(TOOLS / "pip-audit"), "-r", "requirements.txt", "--no-deps", "--disable-pip", "-f", "json"
    )
    web = run("npm", "audit", "--omit=dev", "--json", cwd=ROOT / "web")
    answers: list[bool] = []
    try:
        told = json.loads(python.stdout)["dependencies"]
        asked = [d for d in told if "skip_reason" not in d]
        for one in asked:
            for known in one["vulns"]:
                print(f"  {one['name']} {one['version']}: {known['id']}")
        if asked:
            answers.append(any(d["vulns"] for d in asked))
    except (ValueError, KeyError):
        pass
    try:
        counts = json.loads(web.stdout)["metadata"]["vulnerabilities"]
        answers.append(bool(counts["total"]))
    except (ValueError, KeyError):
        pass
    return any(answers) if answers else None


def licences() -> list[tuple[str, str, str]]:
    """(name, version, licence) of all that ships."""
    listed = run(str(TOOLS / "pip-licenses"), f"--python={sys.executable}", "--format=json").stdout
    shipped = {
        re.sub(r"[-_.]+", "-", line.split("==")[0]).lower()
        for line in (ROOT / "requirements.txt").read_text().splitlines()
        if "==" in line
    }
    found = [
        (p["Name"], p["Version"], p["License"])
        for p in json.loads(listed)
        if re.sub(r"[-_.]+", "-", p["Name"]).lower() in shipped
    ]
    packages = json.loads((ROOT / "web" / "package-lock.json").read_text())["packages"]
    for path, of in packages.items():
        if path and not of.get("dev") and not of.get("optional"):
            found.append(
                (path.removeprefix("node_modules/"), of["version"], str(of.get("license", "not said")))
            )
    return sorted(found, key=lambda row: row[0].lower())


def main() -> int:
    OUT.mkdir(exist_ok=True)
    told = licences()
    with (OUT / "licences.csv").open("w", newline="") as file:
        csv.writer(file).writerows([("name", "version", "licence"), *told])
    odd = [row for row in told if not MAY_SHIP.search(row[2])]
    for name, version, licence in odd:
        print(f"  {name} {version}: “{licence}” is not a licence that is known to be fine to ship")
    python = run(str(TOOLS / "cyclonedx-py"), "requirements", "requirements.txt").stdout
    (OUT / "sbom-python.json").write_text(python)
    web = run("npm", "sbom", "--sbom-format", "cyclonedx", "--omit", "dev", cwd=ROOT / "web").stdout
    (OUT / "sbom-web.json").write_text(web)
    known = vulnerable()
    print(f"{len(told)} packages ship; their licences and lists are in audit/.")
    print(
        "No registry answers about vulnerabilities here: run it where one does."
        if known is None
        else "Vulnerabilities are known: see above."
        if known
        else "No vulnerability is known."
    )
    return 1 if odd or known else 0


if __name__ == "__main__":
    sys.exit(main())
