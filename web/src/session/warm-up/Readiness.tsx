// How ready the player is, by large targets.

import { Button, Input } from "antd";
import { useState } from "react";
import type { Schemas } from "../../app/api";
import css from "./Readiness.module.css";

type Answers = Schemas["Readiness"];

interface Props {
  answers: Answers | undefined;
  save: (answers: Answers) => void;
}

const SLEEP = ["poor", "", "fair", "", "good"].map((word, i) => ({
  value: i + 1,
  label: `${i + 1}${word && ` ${word}`}`,
}));
const SORENESS = ["none", "a little", "clear", "strong"].map((label, value) => ({ value, label }));
const YES_NO = [
  { value: 0, label: "no" },
  { value: 1, label: "yes" },
];

export function Readiness({ answers, save }: Props) {
  const [sleep, setSleep] = useState(answers?.sleep);
  const [soreness, setSoreness] = useState(answers?.soreness);
  const [hard, setHard] = useState(answers ? Number(answers.hard_exercise) : undefined);
  const [pain, setPain] = useState(answers ? Number(answers.pain) : undefined);
  const [note, setNote] = useState(answers?.note ?? "");
  const given =
    sleep === undefined || soreness === undefined || hard === undefined || pain === undefined
      ? undefined
      : { sleep, soreness, hard_exercise: hard === 1, pain: pain === 1, note: note.trim() };
  return (
    <form
      className={css.readiness}
      onSubmit={(event) => {
        event.preventDefault();
        if (given) save(given);
      }}
    >
      <h2>Ready?</h2>
      <Choice label="Sleep last night" options={SLEEP} value={sleep} choose={setSleep} />
      <Choice label="Soreness" options={SORENESS} value={soreness} choose={setSoreness} />
      <Choice
        label="Hard exercise in the last two days"
        options={YES_NO}
        value={hard}
        choose={setHard}
      />
      <Choice label="Does anything hurt?" options={YES_NO} value={pain} choose={setPain} />
      <Input
        aria-label="Where it hurts, or anything else worth knowing"
        placeholder="Where it hurts, or anything else worth knowing"
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <Button htmlType="submit" disabled={!given}>
        {answers ? "Answer again" : "Keep the answers"}
      </Button>
      {!given && <small className="quiet">Four answers, then keep them.</small>}
    </form>
  );
}

interface ChoiceProps {
  label: string;
  options: { value: number; label: string }[];
  value: number | undefined;
  choose: (value: number) => void;
}

function Choice({ label, options, value, choose }: ChoiceProps) {
  return (
    <fieldset className={css.choice}>
      <legend>{label}</legend>
      {options.map((option) => (
        <button
          type="button"
          key={option.value}
          aria-pressed={option.value === value}
          onClick={() => choose(option.value)}
        >
          {option.label}
        </button>
      ))}
    </fieldset>
  );
}
