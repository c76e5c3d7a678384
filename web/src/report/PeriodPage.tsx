// What a player takes home of some weeks.

import { Link, useParams, useSearchParams } from "react-router";
import { useWords } from "../app/vocabulary";
import { usePlayerName } from "../record/queries";
import { DayField } from "../ui/DayField";
import { Loading, Trouble } from "../ui/Notice";
import { PageEditor } from "./PageEditor";
import css from "./PageEditor.module.css";

/** Days that a period goes back when none is said. */
const BACK = 42;

export function PeriodPage() {
  const { player = "" } = useParams();
  const words = useWords();
  const [params, setParams] = useSearchParams();
  const named = usePlayerName(player);
  const from = params.get("from") ?? dayOf(-BACK);
  const to = params.get("to") ?? dayOf(0);
  if (named.isError) return <Trouble error={named.error} retry={named.refetch} />;
  if (!words || !named.data) return <Loading />;
  const set = (name: string, on: string) => {
    const next = new URLSearchParams({ from, to });
    next.set(name, on);
    if (on) setParams(next, { replace: true });
  };
  return (
    <>
      <div className={`page ${css.periodHead}`}>
        <p className="crumb">
          <Link to={`/players/${player}`}>{named.data.name}</Link>
        </p>
        <h1>A page of some weeks</h1>
        <div className={css.days}>
          <label>
            From
            <DayField value={from} max={to} onChange={(day) => set("from", day)} />
          </label>
          <label>
            To
            <DayField value={to} min={from} onChange={(day) => set("to", day)} />
          </label>
        </div>
      </div>
      <PageEditor key={`${from} ${to}`} about={{ player, from, to }} words={words} />
    </>
  );
}

/** A day so many days from now, where the coach is: "2026-11-27". */
function dayOf(off: number): string {
  const at = new Date(Date.now() + off * 86_400_000);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
}
