"""A tool server that misbehaves in the way its first argument names, over stdio."""

import json
import os
import sys

MODE = sys.argv[1]


def answer(message, result):
    print(json.dumps({"jsonrpc": "2.0", "id": message["id"], "result": result}), flush=True)


for line in sys.stdin:
    message = json.loads(line)
    if "id" not in message:
        continue
    if message["method"] == "initialize":
        if MODE == "chatty":
            print("starting up…", flush=True)
        info = {"name": "odd", "version": "june"}
        answer(message, {"protocolVersion": "2025-06-18", "serverInfo": info, "capabilities": {"tools": {}}})
    elif message["method"] != "tools/list":
        error = {"code": -32601, "message": "no such method"}
        print(json.dumps({"jsonrpc": "2.0", "id": message["id"], "error": error}), flush=True)
    elif MODE == "chatty":
        tools = [{"name": "t", "inputSchema": {"type": "objekt"}, "x-vendor": {"k": 2**60}}, {"title": 1}]
        answer(message, {"tools": tools})
    elif MODE == "endless":
        answer(message, {"tools": [], "nextCursor": str(message["id"])})
    elif MODE == "circle":
        answer(message, {"tools": [], "nextCursor": "again"})
    elif MODE == "flood":
        while True:
            sys.stdout.write("x" * 65536)
    elif MODE == "nonsense":
        answer(message, {"tools": 7})
    elif MODE == "twice":
        text = json.dumps({"jsonrpc": "2.0", "id": message["id"], "result": {"tools": []}})
        print(text.replace('"tools"', '"x": [{"name": 1, "name": 2}], "tools"'), flush=True)
    elif MODE == "crash":
        sys.exit(f"cannot reach the database with {os.environ.get('ODD_SECRET')}")
    # "hang" answers nothing
