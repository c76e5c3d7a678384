import { render } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { testWords } from "../../app/words.fixture";
import { CallOut, calledOut } from "./CallOut";
import type { HitView } from "./queries";

const words = testWords();
const spoken: string[] = [];
beforeEach(() => {
  spoken.length = 0;
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
    shots: shots.map(([si], i) => ({
      id: String(i),
      values: { club_speed: { si, from: "measured" } },
    })),
    report: { shown: ["club_speed"], shots: shots.map(([, judged]) => judged) },
  } as unknown as HitView;
}

test("the number of a new shot is said once, with its judgement, and only when it is wanted", () => {
  calledOut.setState({ value: "on" });
  const first: Parameters<typeof view>[0] = [[40, { standing: "kept" }]];
  const page = render(<CallOut view={view(first)} words={words} />);
  expect(spoken).toEqual([]);
  const second = [...first, [44.704, { standing: "kept", met: "met" }] as const];
  page.rerender(<CallOut view={view(second as typeof first)} words={words} />);
  page.rerender(<CallOut view={view(second as typeof first)} words={words} />);
  expect(spoken).toEqual(["100.0, on target"]);
  calledOut.setState({ value: "off" });
  const third = [...second, [41, { standing: "kept" }] as const];
  page.rerender(<CallOut view={view(third as typeof first)} words={words} />);
  expect(spoken).toHaveLength(1);
});

test("a doubtful number is not said as if it were one", () => {
  calledOut.setState({ value: "on" });
  const page = render(<CallOut view={view([])} words={words} />);
  page.rerender(<CallOut view={view([[70, { standing: "doubtful" }]])} words={words} />);
  expect(spoken).toEqual(["doubtful"]);
});
