"""Writes the tables of keys in docs/arsenal.md anew: key_tables.py TOOL DOCUMENT."""
import json
import re
import subprocess
import sys

tool, document = sys.argv[1:]
sections = {}
for key in json.loads(subprocess.run([tool, "keys", "--json"], capture_output=True, text=True, check=True).stdout):
    sections.setdefault(key["section"], []).append(
        f"| `{key['key']}` | {key['type']} | {key['allowed']} | {key['default']} | {key['meaning']} |")

section = None
lines = []
in_table = False
for line in open(document).read().split("\n"):
    if heading := re.match(r"##+ (.*)", line):
        named = re.search(r"`\[([^\]]+)\]`", heading.group(1))
        section = re.sub(r"\.(ID|NAME)\b", "", named.group(1)) if named else None
        section = "body.region.shape" if heading.group(1).startswith("A shape") else section
    if line.startswith("| key ") and section in sections:
        in_table = True
        lines += [line, "| --- | --- | --- | --- | --- |"] + sections[section]
    elif not (in_table and line.startswith("|")):
        in_table = False
        lines.append(line)
open(document, "w").write("\n".join(lines))
