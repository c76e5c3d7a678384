// The numbers of each shot said aloud, for a player who looks at the ball: which, is chosen for
// each purpose.

import { Select } from "antd";
import { useEffect, useMemo, useRef } from "react";
import type { Quantity } from "../../app/api";
import { keptChoice, useChoice } from "../../app/choice";
import type { Words } from "../../app/vocabulary";
import { canSpeak, say } from "../../ui/voice";
import { MET } from "./at";
import type { HitView } from "./queries";

type Said = "off" | "all" | Quantity;

/** What is said at a purpose, in this browser. */
export function calledOut(purpose: string, words: Words) {
  const known = words.vocabulary.quantities.map(({ key }) => key);
  return keptChoice<Said>(`call-out.${purpose}`, "off", ["off", "all", ...known]);
}

export function CallOut({ view, words }: { view: HitView; words: Words }) {
  const purpose = view.session.purpose_key;
  const choice = useMemo(() => calledOut(purpose, words), [purpose, words]);
  const [chosen, choose] = useChoice(choice);
  const newest = view.shots.at(-1);
  // What was there when the page opened is not news.
  const told = useRef(newest?.id);
  const aloud = saidOf(view, words, chosen);
  useEffect(() => {
    if (!newest || newest.id === told.current) return;
    told.current = newest.id;
    if (aloud) say(aloud);
  }, [newest, aloud]);
  if (!canSpeak() || view.report.shown.length === 0) return null;
  const options = [
    { value: "off" as Said, label: "say nothing aloud" },
    ...view.report.shown.map((quantity) => ({
      value: quantity as Said,
      label: `say ${words.quantity(quantity).label.toLowerCase()} aloud`,
    })),
    { value: "all" as Said, label: "say all of them aloud" },
  ];
  // A number that is hidden is not said either.
  const value = options.some((option) => option.value === chosen) ? chosen : "off";
  return <Select<Said> aria-label="Said aloud" value={value} onChange={choose} options={options} />;
}

/** What is said of the newest shot; nothing of one without the number that was chosen. */
function saidOf({ shots, report }: HitView, words: Words, chosen: Said): string | undefined {
  const judged = report.shots[shots.length - 1];
  if (chosen === "off" || !judged || judged.standing === "set_aside") return undefined;
  const wanted = report.shown.filter((quantity) => chosen === "all" || quantity === chosen);
  const numbers = wanted.flatMap((quantity) => {
    const value = shots.at(-1)?.values[quantity];
    // As English is spoken, whatever the browser writes.
    return value ? words.field(words.quantity(quantity).dimension, value.si) : [];
  });
  if (numbers.length === 0) return undefined;
  if (judged.standing === "doubtful") return "doubtful";
  return [...numbers, ...(judged.met ? [MET[judged.met][1]] : [])].join(", ");
}
