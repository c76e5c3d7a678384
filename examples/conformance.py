#!/usr/bin/env python3
"""Whether a server speaks the device line, version 1, as docs/formats.md says.

    python3 examples/conformance.py HOST PORT SECRET [KIND]

SECRET is that of a device of KIND (radar, unless said otherwise) with one session in progress,
which gets a few shots: use a session that may be thrown away. Prints a line for each promise;
ends with 1 when one was broken.
"""

import json
import socket
import sys
import uuid
from datetime import datetime, timedelta, timezone

TIMEOUT_S = 20
LONGEST_LINE = 262_144
failed = []


def time(ago_s=0):
    return (datetime.now(timezone.utc) - timedelta(seconds=ago_s)).isoformat()


class Connection:
    def __init__(self, address):
        self.socket = socket.create_connection(address, timeout=TIMEOUT_S)
        self.lines = self.socket.makefile("rb")

    def send(self, data):
        self.socket.sendall(data)

    def hear(self):
        line = self.lines.readline()
        return json.loads(line) if line else None

    def say(self, line):
        self.send(json.dumps(line).encode() + b"\n")
        return self.hear()


def shot(sequence, values=None, **fields):
    told = {"club_speed_mph": 90.0} if values is None else values
    return {
        "type": "shot",
        "sequence": sequence,
        "time": time(),
        "values": {
            name: value if isinstance(value, dict) else {"value": value, "from": "measured"}
            for name, value in told.items()
        },
        **fields,
    }


def promise(what, kept, heard):
    print(f"{'good  ' if kept else 'BROKEN'} {what}" + ("" if kept else f": {json.dumps(heard)}"))
    if not kept:
        failed.append(what)


def refuses(what, answer, field):
    whole = answer is not None and {"field", "value", "problem", "remedy"} <= answer.keys()
    promise(what, whole and answer["type"] == "error" and answer["field"] == field, answer)


def main():
    host, port, secret = sys.argv[1], int(sys.argv[2]), sys.argv[3]
    kind = sys.argv[4] if len(sys.argv) > 4 else "radar"
    address = (host, port)
    run = str(uuid.uuid4())
    hello = {
        "type": "hello",
        "version": 1,
        "token": secret,
        "kind": kind,
        "run": run,
        "measures": ["club_speed", "ball_speed"],
        "calculates": ["smash_factor"],
        "time": time(),
    }

    line = Connection(address)
    promise("ping before a hello is answered", (heard := line.say({"type": "ping"})) == {"type": "pong"}, heard)
    refuses("a shot before a hello is refused", line.say(shot(1)), "type")
    refuses("another version is refused", line.say({**hello, "version": 2}), "version")
    refuses("a wrong secret is refused", line.say({**hello, "token": "nobody's"}), "token")
    line = Connection(address)
    other = "camera" if kind != "camera" else "radar"
    refuses("a secret of another kind is refused", line.say({**hello, "kind": other}), "kind")
    heard = line.say({**hello, "measures": [*hello["measures"], "x_new"]})
    promise("a hello is welcome", heard["type"] == "welcome" and heard["version"] == 1, heard)
    promise("unknown names in it are told", heard.get("unread") == ["x_new"], heard)

    first = shot(1, {"club_speed_mph": 91.5, "x_new_deg": {"value": 3, "from": "measured"}}, x_field=7)
    heard = line.say(first)
    kept = heard["type"] == "ack" and heard["sequence"] == 1 and heard["again"] is False
    promise("a shot is acknowledged", kept, heard)
    promise("what is not known of it is told", sorted(heard.get("unread", [])) == ["x_field", "x_new_deg"], heard)
    again = line.say(first)
    promise("the same again is known", again.get("again") is True and again.get("shot") == heard.get("shot"), again)
    refuses("its number with other values is refused", line.say(shot(1, {"club_speed_mph": 70})), "sequence")
    heard = line.say(shot(2, {"club_speed_kmh": 150, "smash_factor": {"value": 1.4, "from": "calculated"}}))
    promise("units and calculated values are taken", heard["type"] == "ack", heard)
    refuses("a value out of range is refused", line.say(shot(3, {"club_speed_mph": -3})), "club_speed_mph")
    refuses("a value twice is refused", line.say(shot(3, {"club_speed_mph": 90, "club_speed_mps": 40})), "club_speed_mps")
    refuses("a value not announced is refused", line.say(shot(3, {"spin_rate_rpm": 2500})), "spin_rate_rpm")
    refuses("a known value in a strange unit is refused", line.say(shot(3, {"club_speed_deg": 80})), "club_speed_deg")
    refuses("no known value is refused", line.say(shot(3, {"x_new_deg": 3})), "values")
    refuses("a number below 1 is refused", line.say(shot(0)), "sequence")
    refuses("a clock that was never set is refused", line.say({**shot(3), "time": "1970-01-01T00:00:09Z"}), "time")
    refuses("a time without a zone is refused", line.say({**shot(3), "time": "2026-04-18 10:15"}), "time")
    refuses("a side without an implement is refused", line.say(shot(3, swing_side="other")), "swing_side")
    heard = line.say(shot(3, club="a club of nobody's"))
    promise("an unknown club costs no shot", heard["type"] == "ack" and heard.get("unread") == ["club"], heard)
    heard = line.say(shot(4, block="Conformance"))
    promise("a block is taken", heard["type"] == "ack" and "unread" not in heard, heard)

    line.send(b"not json\n")
    refuses("what is not JSON is refused", line.hear(), "line")
    line.send(b"[1]\n")
    refuses("what is no object is refused", line.hear(), "line")
    line.send(b"\xff\xfe\n")
    refuses("what is not UTF-8 is refused", line.hear(), "line")
    line.send(b"x" * (LONGEST_LINE + 1) + b"\n")
    refuses("a line that is too long is refused", line.hear(), "line")
    refuses("another type is refused", line.say({"type": "x_new"}), "type")
    line.send(json.dumps(shot(5)).encode() + b"\n" + json.dumps({"type": "ping"}).encode() + b"\n")
    heard = [line.hear(), line.hear()]
    promise("answers come in order", [one["type"] for one in heard] == ["ack", "pong"], heard)
    line.send(json.dumps(shot(6)).encode() + b"\r\n\n")
    promise("CR LF and blank lines do no harm", (heard := line.hear())["type"] == "ack", heard)

    # Gone within a line, and back.
    line.send(json.dumps(shot(7)).encode()[:40])
    line.socket.shutdown(socket.SHUT_WR)
    line = Connection(address)
    promise("it comes again", (heard := line.say(hello))["type"] == "welcome", heard)
    heard = line.say(shot(7))
    promise("half a line was not kept", heard["type"] == "ack" and heard["again"] is False, heard)
    promise("what was acknowledged is known to another connection", (heard := line.say(first)).get("again") is True, heard)

    print(f"{len(failed)} promises were broken" if failed else "all promises were kept")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
