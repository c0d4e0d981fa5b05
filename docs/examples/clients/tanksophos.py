"""A client in one file, with nothing but Python's standard library.

    rig = Rig("http://localhost:5080", "tks_...")
    for item in rig.get("agenda")["items"]: print(item["level"], item["code"])
    rig.log({"type": "dump", "tank": "black"})
    for entry in rig.entries(type="dump"): print(entry["at"])
"""
import json
import sys
import urllib.error
import urllib.parse
import urllib.request
import uuid
from datetime import datetime, timezone


class Refused(Exception):
    """What was not accepted, each thing with its path."""

    def __init__(self, status, errors):
        super().__init__("; ".join(f"{e['path']}: {e['message']}" if e["path"] else e["message"] for e in errors))
        self.status, self.errors = status, errors


class Rig:
    def __init__(self, address, token):
        self.api, self.token, self.seen = address.rstrip("/") + "/api/v1/", token, {}

    def _ask(self, path, body=None):
        request = urllib.request.Request(self.api + path, headers={"Authorization": "Bearer " + self.token})
        if body is not None:
            request.data = json.dumps(body).encode()
            request.add_header("Content-Type", "application/json")
        elif path in self.seen:
            request.add_header("If-None-Match", self.seen[path][0])
        try:
            with urllib.request.urlopen(request, timeout=30) as answer:
                said = json.load(answer)
                if answer.headers.get("ETag"):
                    self.seen[path] = (answer.headers["ETag"], said)
                return said
        except urllib.error.HTTPError as error:
            if error.code == 304:
                return self.seen[path][1]
            raise Refused(error.code, json.load(error)["errors"]) from None

    def get(self, what):
        """rig, logbook, assessment, agenda, plan, devices."""
        return self._ask(what)

    def entries(self, **narrowed):
        """Entries, the newest first; from_, to, type, tank narrow."""
        wanted, skip = {k.rstrip("_"): v for k, v in narrowed.items()}, 0
        while skip is not None:
            page = self._ask("entries?" + urllib.parse.urlencode({**wanted, "skip": skip}))
            yield from page["entries"]
            skip = page["next"]

    def log(self, entry):
        """Logs an entry. Sent twice with the same id it counts once."""
        now = datetime.now(timezone.utc).isoformat(timespec="seconds")
        return self._ask("entries", {"id": str(uuid.uuid4()), "at": now, **entry})

    def measure(self, device, values):
        return self._ask("measurements", {"device": device, "values": values})


if __name__ == "__main__":
    if len(sys.argv) < 4:
        sys.exit("usage: tanksophos.py ADDRESS TOKEN agenda|rig|logbook|assessment|plan|devices|entries|log [ENTRY]")
    rig = Rig(sys.argv[1], sys.argv[2])
    try:
        if sys.argv[3] == "entries":
            print(json.dumps(list(rig.entries())))
        elif sys.argv[3] == "log":
            print(json.dumps(rig.log(json.loads(sys.argv[4]))))
        else:
            print(json.dumps(rig.get(sys.argv[3])))
    except Refused as refused:
        sys.exit(f"{refused.status} {refused}")
