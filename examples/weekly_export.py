#!/usr/bin/env python3
"""What was hit since a day, by the client that openapi-python-client makes of the description.

    openapi-python-client generate --url http://127.0.0.1:8090/api/openapi.json
    PYTHONPATH=amber-tally-client python3 examples/weekly_export.py ADDRESS TOKEN 2026-11-21

TOKEN is one that you make for a script under your initials; to read is enough. Prints a line for
each player with the sessions since that day, and then the shots as CSV.
"""

import sys
from datetime import datetime, timezone

from amber_tally_client import AuthenticatedClient
from amber_tally_client.api.players import player, players
from amber_tally_client.api.shots_in_and_out import export_shots
from amber_tally_client.models import Units


def main():
    address, token, since = sys.argv[1], sys.argv[2], sys.argv[3]
    since = datetime.fromisoformat(since).replace(tzinfo=timezone.utc)
    client = AuthenticatedClient(base_url=address, token=token)
    for listed in players.sync(client=client):
        one = player.sync(listed.id, client=client)
        recent = [session for session in one.sessions if session.started_at >= since]
        print(f"{one.name}: {len(recent)} of {len(one.sessions)} sessions")
    shots = export_shots.sync_detailed(client=client, units=Units.MPH_YD, from_=since)
    print(shots.content.decode(), end="")


if __name__ == "__main__":
    main()
