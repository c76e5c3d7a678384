// The great number of each shot said aloud, for a player who looks at the ball.

import { Checkbox } from "antd";
import { useEffect, useRef } from "react";
import { keptChoice, useChoice } from "../../app/choice";
import type { Words } from "../../app/vocabulary";
import { canSpeak, say } from "../../ui/voice";
import type { HitView } from "./queries";

export const calledOut = keptChoice<"off" | "on">("call-out", "off", ["off", "on"]);

const MET = { met: "on target", under: "under", over: "over" } as const;

export function CallOut({ view, words }: { view: HitView; words: Words }) {
  const [voice, choose] = useChoice(calledOut);
  const newest = view.shots.at(-1);
  // What was there when the page opened is not news.
  const told = useRef(newest?.id);
  const aloud = saidOf(view, words);
  useEffect(() => {
    if (!newest || newest.id === told.current) return;
    told.current = newest.id;
    if (voice === "on" && aloud) say(aloud);
  }, [newest, aloud, voice]);
  if (!canSpeak()) return null;
  return (
    <p>
      <Checkbox checked={voice === "on"} onChange={(e) => choose(e.target.checked ? "on" : "off")}>
        Say each number aloud
      </Checkbox>
    </p>
  );
}

/** What is said of the newest shot; nothing of one without the number that matters. */
function saidOf({ shots, report }: HitView, words: Words): string | undefined {
  const [greatest] = report.shown;
  const value = greatest && shots.at(-1)?.values[greatest];
  const judged = report.shots[shots.length - 1];
  if (!greatest || !value || judged?.standing === "set_aside") return undefined;
  if (judged?.standing === "doubtful") return "doubtful";
  const { dimension } = words.quantity(greatest);
  const number = words.bare(dimension, value.si);
  return judged?.met ? `${number}, ${MET[judged.met]}` : number;
}
