"""The shipped JSON Schema holds for every example, and fails where a document is wrong."""
import copy
import json
import sys
from pathlib import Path

from jsonschema import Draft202012Validator

root = Path(sys.argv[1])
schema = json.loads((root / "data/collection.schema.json").read_text())
Draft202012Validator.check_schema(schema)
validator = Draft202012Validator(schema)
examples = sorted(root.glob("demo/**/*.collection.json"))
assert examples, "no examples"
for path in examples:
    document = json.loads(path.read_text())
    for problem in validator.iter_errors(document):
        sys.exit(f"{path}: {problem.json_path}: {problem.message}")
    for break_it in (lambda d: d.update(scorrere=2), lambda d: d.pop("items"), lambda d: d["items"].pop("record"),
                     lambda d: d["items"]["record"].update(gap="wide"),
                     lambda d: d["items"]["record"].update(text="two things at once"),
                     lambda d: d.update(source={})):
        broken = copy.deepcopy(document)
        break_it(broken)
        if validator.is_valid(broken):
            sys.exit(f"{path}: the schema lets a broken document pass")
