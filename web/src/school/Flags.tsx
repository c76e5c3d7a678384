// What there is to look at, of players and devices: sorted by what the coach asks for.

import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { Choose } from "../ui/Choose";
import { day } from "../ui/day";
import { said } from "../ui/Said";
import css from "./TodayPage.module.css";

type TodayFlag = Schemas["TodayFlag"];
type Kind = Schemas["FlagKind"];

/** In the order of how soon they are to be looked at. */
const KINDS: Record<Kind, string> = {
  held: "pain",
  silent_device: "device",
  consent: "consent",
  off_day: "off day",
  doubted: "doubtful",
  fitting_check: "fitting",
  level: "level",
};
const ORDER = Object.keys(KINDS) as Kind[];

const SORTS = [
  ["urgency", "most urgent first"],
  ["day", "latest first"],
  ["name", "by name"],
] as const;
type Sort = (typeof SORTS)[number][0];

const SHOWN = 8;

export function sorted(flags: TodayFlag[], by: Sort): TodayFlag[] {
  const latest = (a: TodayFlag, b: TodayFlag) => b.flag.seen.localeCompare(a.flag.seen);
  const named = (a: TodayFlag, b: TodayFlag) => a.name.localeCompare(b.name);
  const urgent = (a: TodayFlag, b: TodayFlag) =>
    ORDER.indexOf(a.flag.kind) - ORDER.indexOf(b.flag.kind);
  const orders = {
    urgency: [urgent, latest, named],
    day: [latest, urgent, named],
    name: [named, urgent, latest],
  }[by];
  return [...flags].sort((a, b) => {
    for (const order of orders) {
      const found = order(a, b);
      if (found !== 0) return found;
    }
    return 0;
  });
}

function placeOf({ player, flag }: TodayFlag): string {
  if (!player) return "/school/devices";
  if (flag.kind === "doubted") return "/school/doubtful";
  return flag.kind === "consent" ? `/players/${player}/about` : `/players/${player}`;
}

export function Flags({ flags, words }: { flags: TodayFlag[]; words: Words }) {
  const [by, setBy] = useState<Sort>("urgency");
  const [all, setAll] = useState(false);
  if (flags.length === 0) return <p className="quiet">Nothing asks to be looked at.</p>;
  const rows = sorted(flags, by);
  const shown = all ? rows : rows.slice(0, SHOWN);
  return (
    <>
      {flags.length > 2 && <Choose legend="Order" of={SORTS} value={by} choose={setBy} />}
      <ul className="rows">
        {shown.map((row) => (
          <li key={`${row.player ?? row.name} ${row.flag.kind}`}>
            <Link to={placeOf(row)} className={`row-link ${css.flag}`}>
              <span className="row-name">{row.name}</span>
              <span>{said(row.flag.said, words)}</span>
              <span className={css.kind}>{KINDS[row.flag.kind]}</span>
              <span className="row-last">{day(row.flag.seen, "UTC")}</span>
            </Link>
          </li>
        ))}
      </ul>
      {rows.length > SHOWN && (
        <button type="button" className="text-act" onClick={() => setAll(!all)}>
          {all ? "The first few" : `All ${rows.length}`}
        </button>
      )}
    </>
  );
}
