import { keptChoice } from "../app/choice";
import { say } from "../ui/voice";

export const voiceChoice = keptChoice<"off" | "on">("run-voice", "off", ["off", "on"]);

/** Says something, where the browser has a voice and the coach wants it. */
export function speak(words: string) {
  if (voiceChoice.getState().value === "on") say(words);
}

/** Counts the last seconds of a rest aloud. */
export function countDown(left: number) {
  if (left >= 0 && left <= 3) speak(left === 0 ? "swing" : String(left));
}
