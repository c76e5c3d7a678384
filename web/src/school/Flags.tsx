// What there is to look at, of players and devices, in the order that the coach asks for.

import { Link } from "react-router";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { Choose } from "../ui/Choose";
import { day } from "../ui/day";
import { said } from "../ui/Said";
import css from "./TodayPage.module.css";

type TodayFlag = Schemas["TodayFlag"];
type Kind = Schemas["FlagKind"];

const KINDS: Record<Kind, string> = {
  held: "pain",
  silent_device: "device",
  consent: "consent",
  off_day: "off day",
  doubted: "doubtful",
  fitting_check: "fitting",
  level: "level",
};

const ORDERS = [
  ["urgency", "most urgent first"],
  ["day", "latest first"],
  ["name", "by name"],
] as const;
export type FlagOrder = Schemas["FlagOrder"];

/** As many as stand there until all are asked for, and all. */
export const FEW = 8;
export const ALL = 5000;

function placeOf({ player, flag }: TodayFlag): string {
  if (!player) return "/school/devices";
  if (flag.kind === "doubted") return `/school/doubtful?player=${player}`;
  return flag.kind === "consent" ? `/players/${player}/about` : `/players/${player}`;
}

interface Props {
  flags: TodayFlag[];
  /** How many there are. */
  inAll: number;
  order: FlagOrder;
  setOrder: (order: FlagOrder) => void;
  setMost: (most: number) => void;
  words: Words;
}

export function Flags({ flags, inAll, order, setOrder, setMost, words }: Props) {
  if (inAll === 0) return <p className="quiet">Nothing asks to be looked at.</p>;
  const all = flags.length > FEW;
  return (
    <>
      {inAll > 2 && <Choose legend="Order" of={ORDERS} value={order} choose={setOrder} />}
      <ul className="rows">
        {flags.map((row) => (
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
      {inAll > FEW && (
        <button type="button" className="text-act" onClick={() => setMost(all ? FEW : ALL)}>
          {all ? "The first few" : `All ${inAll}`}
        </button>
      )}
    </>
  );
}
