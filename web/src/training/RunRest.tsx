// The rest between two sets; its last seconds are counted aloud where the coach wants a voice.

import { useEffect, useRef, useState } from "react";
import { RestTimer } from "../session/hit/RestTimer";
import { speak } from "./voice";

export function RunRest({ since, seconds }: { since: string; seconds: number }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const beat = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(beat);
  }, []);
  const left = Math.ceil(seconds - (now - new Date(since).getTime()) / 1000);
  const said = useRef<number>(undefined);
  useEffect(() => {
    if (left === said.current || left > 3 || left < 0) return;
    said.current = left;
    speak(left === 0 ? "swing" : String(left));
  }, [left]);
  return <RestTimer since={since} seconds={seconds} />;
}
