import { render } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { testWords } from "../../app/words.fixture";
import { CallOut } from "./CallOut";
import type { HitView } from "./queries";

const words = testWords();
const spoken: string[] = [];
beforeEach(() => {
  spoken.length = 0;
  localStorage.clear();
  vi.stubGlobal(
    "SpeechSynthesisUtterance",
    class {
      constructor(readonly text: string) {}
    },
  );
  vi.stubGlobal("speechSynthesis", {
    cancel: () => {},
    speak: (words: { text: string }) => spoken.push(words.text),
  });
});

/** So many shots of a speed, m/s, each judged as said. */
function view(shots: [number, Partial<HitView["report"]["shots"][number]>][]): HitView {
  return {
    session: { purpose_key: "speed_day" },
    shots: shots.map(([si], i) => ({
      id: String(i),
      values: { club_speed: { si, from: "measured" } },
    })),
    report: { shown: ["club_speed"], shots: shots.map(([, judged]) => judged) },
  } as unknown as HitView;
}

const chosen = (what: string) => localStorage.setItem("amber-tally.call-out.speed_day", what);

/** What is said when a second shot comes, and is read again. */
function saidAt(second: Parameters<typeof view>[0][number]) {
  const first: Parameters<typeof view>[0] = [[40, { standing: "kept" }]];
  const page = render(<CallOut view={view(first)} words={words} />);
  page.rerender(<CallOut view={view([...first, second])} words={words} />);
  page.rerender(<CallOut view={view([...first, second])} words={words} />);
  return spoken;
}

test("the number of a new shot is said once, with its judgement", () => {
  chosen("club_speed");
  expect(saidAt([44.704, { standing: "kept", met: "met" }])).toEqual(["100.0, on target"]);
});

test("nothing is said that is not wanted at this purpose, hidden or set aside", () => {
  expect(saidAt([44.704, { standing: "kept" }])).toEqual([]);
  chosen("carry");
  expect(saidAt([44.704, { standing: "kept" }])).toEqual([]);
  chosen("all");
  expect(saidAt([44.704, { standing: "set_aside" }])).toEqual([]);
});

test("a doubtful number is not said as if it were one", () => {
  chosen("all");
  expect(saidAt([70, { standing: "doubtful" }])).toEqual(["doubtful"]);
});
