#!/usr/bin/env python3
"""A device of one's own in a page: speaks the device line, version 1, over TCP.

    python3 examples/device.py HOST PORT SECRET < shots.ndjson

Each line of standard input is the values of one shot, such as
{"club_speed_mph": 92.4, "ball_speed_mph": 131.0}. A shot that is not acknowledged is sent
again over a new connection; the server stores it once. Prints a line for each answer.
"""

import json
import socket
import sys
import time
import uuid
from datetime import datetime, timezone


def now():
    return datetime.now(timezone.utc).isoformat()


class Device:
    def __init__(self, host, port, secret, measures):
        self.address = (host, port)
        self.hello = {
            "type": "hello",
            "version": 1,
            "token": secret,
            "kind": "radar",
            "run": str(uuid.uuid4()),
            "measures": measures,
        }
        self.lines = None

    def say(self, line):
        """Sends a line and reads its answer."""
        self.lines.write(json.dumps(line) + "\n")
        self.lines.flush()
        answer = self.lines.readline()
        if not answer:
            raise ConnectionError("the server went away")
        return json.loads(answer)

    def connect(self):
        self.lines = socket.create_connection(self.address, timeout=30).makefile("rw", encoding="utf-8")
        answer = self.say({**self.hello, "time": now()})
        if answer["type"] != "welcome":
            raise SystemExit(f"not welcome: {answer['field']} {answer['problem']}; {answer['remedy']}")

    def send(self, shot):
        """Sends a shot until it is acknowledged, or refused for what it says."""
        for attempt in range(10):
            try:
                if self.lines is None:
                    self.connect()
                answer = self.say(shot)
                if answer.get("problem") != "could not be stored just now":
                    return answer
            except (ConnectionError, OSError):
                self.lines = None
            time.sleep(min(2**attempt / 4, 10))
        raise SystemExit("the server did not come back")


def quantity(field):
    """The quantity of a field: club_speed of club_speed_mph."""
    units = ("_mph", "_kmh", "_mps", "_yd", "_m", "_ft", "_deg", "_rpm", "_s", "_mm")
    return next((field[: -len(unit)] for unit in units if field.endswith(unit)), field)


def main():
    host, port, secret = sys.argv[1], int(sys.argv[2]), sys.argv[3]
    shots = [json.loads(line) for line in sys.stdin if line.strip()]
    measures = sorted({quantity(field) for shot in shots for field in shot})
    device = Device(host, port, secret, measures)
    for sequence, values in enumerate(shots, start=1):
        told = {field: {"value": value, "from": "measured"} for field, value in values.items()}
        line = {"type": "shot", "sequence": sequence, "time": now(), "values": told}
        print(json.dumps(device.send(line)))


if __name__ == "__main__":
    main()
