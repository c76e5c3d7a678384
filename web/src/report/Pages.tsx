// The pages that were written for a player.

import { Link } from "react-router";
import { day } from "../ui/day";
import { usePages } from "./queries";

export function Pages({ player, name }: { player: string; name: string }) {
  const found = usePages(player);
  if (!found.data) return null;
  return (
    <>
      <h2>What {name} takes home</h2>
      <p>
        A page of a session is written at its last station.{" "}
        <Link to={`/players/${player}/page`}>Write one of some weeks</Link>
      </p>
      {found.data.map(({ id, session, title, days: [from, to], written_at }) => (
        <p key={id}>
          <Link
            to={
              session
                ? `/sessions/${session}/page`
                : `/players/${player}/page?from=${from}&to=${to}`
            }
          >
            {title}
          </Link>
          ,{" "}
          {from === to
            ? day(from ?? "", "UTC")
            : `${day(from ?? "", "UTC")} to ${day(to ?? "", "UTC")}`}
          , <span className="quiet">written {day(written_at, "UTC")}</span>
        </p>
      ))}
    </>
  );
}
