// Which block comes next, and whether it begins by itself.

import { Button, Select } from "antd";
import { useEffect, useRef } from "react";
import type { Schemas } from "../../app/api";
import { keptChoice, useChoice } from "../../app/choice";
import css from "./HitPage.module.css";
import type { HitView } from "./queries";

/** Whether the next block begins once the balls of one are hit, or waits to be begun. */
const nextChoice = keptChoice<"off" | "on">("next-block", "off", ["off", "on"]);

interface NextProps {
  view: HitView;
  begin: (block: Schemas["BlockView"]) => void;
  add: (label: string) => void;
}

/** The next block, any other one to come, or one that was not planned. */
export function NextBlock({ view, begin, add }: NextProps) {
  const { session, report } = view;
  const { held } = session.progress;
  const next = report.place.next == null ? undefined : session.blocks[report.place.next];
  const isHeld = (block: Schemas["BlockView"]) => held != null && block.plan.full_effort === true;
  const toCome = session.blocks.filter((block) => !block.begun);
  const ready = report.place.balls > 0 && report.place.hit >= report.place.balls;
  const [byItself, chooseByItself] = useChoice(nextChoice);
  // Blocks seen begun: one that was taken back, here or elsewhere, waits for the coach.
  const begun = useRef(new Set<string>());
  const goesOn = byItself === "on" && ready && !session.progress.paused && next;
  useEffect(() => {
    for (const block of session.blocks) if (block.begun) begun.current.add(block.id);
    if (!goesOn || isHeld(goesOn) || begun.current.has(goesOn.id)) return;
    begun.current.add(goesOn.id);
    begin(goesOn);
  });
  return (
    <div className={css.nextBlock}>
      {next && (
        <Button
          type={ready ? "primary" : "default"}
          disabled={isHeld(next)}
          onClick={() => begin(next)}
        >
          {isHeld(next) ? `${next.label}: held` : `Next block: ${next.label}`}
        </Button>
      )}
      <Select<string>
        aria-label="Another block"
        variant="borderless"
        popupMatchSelectWidth={false}
        value=""
        onChange={(id) => {
          const block = toCome.find((b) => b.id === id);
          if (block) begin(block);
          else if (id.startsWith("add:")) add(id.slice(4));
        }}
        options={[
          { value: "", label: "another block" },
          ...toCome.map((block) => ({
            value: block.id,
            label: isHeld(block) ? `${block.label} (held)` : block.label,
            disabled: isHeld(block),
          })),
          { value: `add:Block ${session.blocks.length + 1}`, label: "an unplanned block" },
          // Its name says so: a hold holds it too.
          {
            value: `add:All-out ${session.blocks.length + 1}`,
            label: "an unplanned block, all-out",
            disabled: held != null,
          },
        ]}
      />
      {session.blocks.length > 1 && (
        <button
          type="button"
          className="link"
          aria-pressed={byItself === "on"}
          onClick={() => chooseByItself(byItself === "on" ? "off" : "on")}
        >
          {byItself === "on" ? "Next block begins by itself" : "Next block waits for me"}
        </button>
      )}
    </div>
  );
}
