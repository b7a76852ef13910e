"""validate.py SCHEMA DOCUMENT: checks a JSON document against a schema; says what is wrong and exits with 1."""
import json
import sys

import jsonschema

schema, document = (json.load(open(path, encoding="utf-8")) for path in sys.argv[1:3])
validator = jsonschema.Draft202012Validator(schema)
faults = list(validator.iter_errors(document))
for fault in faults:
    print("/".join(str(part) for part in fault.absolute_path), fault.message)
sys.exit(1 if faults else 0)
