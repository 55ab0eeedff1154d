"""Holds the shipped arsenal, and faults put into it, against the shipped JSON Schema."""
import copy
import json
import pathlib
import sys
import tomllib

import jsonschema

data = pathlib.Path(sys.argv[1])
schema = json.loads((data / "arsenal.schema.json").read_text())
arsenal = tomllib.loads((data / "halm-ring.toml").read_text())
jsonschema.Draft202012Validator.check_schema(schema)
validator = jsonschema.Draft202012Validator(schema)

errors = [error.message for error in validator.iter_errors(arsenal)]
assert not errors, errors

for key, value in {"rate_of_fire": 0, "magazine": 1.5, "damge": 3, "trigger": "hold", "falloff": [[0]],
                   "region": {"head": -1}, "spread": 61}.items():
    faulty = copy.deepcopy(arsenal)
    faulty["weapon"]["thorn-rifle"][key] = value
    assert not validator.is_valid(faulty), f"the schema lets {key} = {value} pass"

for shape in ({"sphere": [0, 1, 2]}, {"sphere": [0, 1], "radius": 1}, {"capsule": [[0, 0, 0]], "radius": 1}):
    faulty = copy.deepcopy(arsenal)
    faulty["body"]["crew"]["region"]["head"]["shapes"] = [shape]
    assert not validator.is_valid(faulty), f"the schema lets {shape} pass"
