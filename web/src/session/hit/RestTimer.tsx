// How long to rest before the next ball; silent unless the coach wants a sound.

import { useEffect, useRef, useState } from "react";
import { keptChoice, useChoice } from "../../app/choice";
import css from "./RestTimer.module.css";

const soundChoice = keptChoice<"off" | "on">("rest-sound", "off", ["off", "on"]);

interface Props {
  since: string;
  seconds: number;
  /** Hears each second that is left, once. */
  count?: (left: number) => void;
}

export function RestTimer({ since, seconds, count }: Props) {
  const [sound, chooseSound] = useChoice(soundChoice);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const beat = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(beat);
  }, []);
  const left = Math.ceil(seconds - (now - new Date(since).getTime()) / 1000);
  const resting = left > 0;
  const told = useRef<number>(undefined);
  useEffect(() => {
    if (told.current !== left) count?.(left);
    told.current = left;
  }, [left, count]);
  const was = useRef(resting);
  useEffect(() => {
    if (was.current && !resting && sound === "on") beep();
    was.current = resting;
  }, [resting, sound]);
  const shown = `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}`;
  return (
    <p className={css.rest} role="timer" aria-live="off">
      {resting && left <= seconds ? (
        <>
          rest <b>{shown}</b>
        </>
      ) : (
        <b>ready</b>
      )}
      <button
        type="button"
        className="link"
        aria-pressed={sound === "on"}
        onClick={() => chooseSound(sound === "on" ? "off" : "on")}
      >
        sound {sound}
      </button>
    </p>
  );
}

function beep() {
  const audio = new AudioContext();
  const tone = audio.createOscillator();
  const volume = audio.createGain();
  volume.gain.value = 0.2;
  tone.frequency.value = 660;
  tone.connect(volume).connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.25);
  tone.onended = () => audio.close();
}
