// Values typed by hand: for a radar without cable, or to put one right.

import { Button, Modal, Select } from "antd";
import { useEffect, useRef, useState } from "react";
import type { Quantity, Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import css from "./Keypad.module.css";

interface Props {
  open: boolean;
  close: () => void;
  title: string;
  shown: Quantity[];
  words: Words;
  save: (values: { quantity: Quantity; given: Schemas["Given"] }[], what: string) => void;
}

const KEYS = ["7", "8", "9", "4", "5", "6", "1", "2", "3", "−", "0", "."];

export function Keypad({ open, close, title, shown, words, save }: Props) {
  const [quantity, setQuantity] = useState<Quantity>(shown[0] ?? "club_speed");
  const [typed, setTyped] = useState<Partial<Record<Quantity, string>>>({});
  const [trouble, setTrouble] = useState("");
  useEffect(() => {
    if (!open) return;
    latest.current = {};
    setTyped({});
    setTrouble("");
    setQuantity(shown[0] ?? "club_speed");
  }, [open, shown]);
  // What was typed up to this moment: keys may come faster than the screen is drawn.
  const latest = useRef(typed);
  const put = (change: (text: string) => string) => {
    latest.current = { ...latest.current, [quantity]: change(latest.current[quantity] ?? "") };
    setTyped(latest.current);
  };
  const press = (key: string) =>
    put((text) => {
      if (key === "−" || key === "-") return text.startsWith("−") ? text.slice(1) : `−${text}`;
      if (key === "," || key === ".") return text.includes(".") ? text : `${text}.`;
      return text + key;
    });
  const erase = () => put((text) => text.slice(0, -1));
  const send = () => {
    const given = Object.entries(latest.current)
      .filter(([, value]) => value !== "")
      .map(([key, value]) => ({ key: key as Quantity, value }));
    const values = given.map(({ key, value }) => ({
      quantity: key,
      given: {
        value: Number(value.replace("−", "-")),
        unit: words.suffix(words.quantity(key).dimension),
      },
    }));
    const wrong = values.find((value) => Number.isNaN(value.given.value));
    if (values.length === 0 || wrong) {
      setTrouble("Type a number first, such as 98.4.");
      return;
    }
    const what = given
      .map(({ key, value }) => {
        const { label, dimension } = words.quantity(key);
        return `${label.toLowerCase()} ${value} ${words.symbol(dimension)}`.trim();
      })
      .join(", ");
    save(values, what);
    close();
  };
  useEffect(() => {
    if (!open) return;
    const pressed = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (/^[0-9.,-]$/.test(event.key)) press(event.key);
      else if (event.key === "Backspace") erase();
      else if (event.key === "Enter") send();
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    addEventListener("keydown", pressed, { capture: true });
    return () => removeEventListener("keydown", pressed, { capture: true });
  });
  const { dimension } = words.quantity(quantity);
  const others = words.vocabulary.quantities.filter((q) => !shown.includes(q.key));
  return (
    <Modal open={open} onCancel={close} title={title} footer={null} width={460} destroyOnHidden>
      <div className="keypad">
        <div className={css.keypadOf}>
          {shown.map((q) => (
            <button
              type="button"
              key={q}
              aria-pressed={q === quantity}
              onClick={() => setQuantity(q)}
            >
              {words.quantity(q).label}
              <b>{typed[q] ?? ""}</b>
            </button>
          ))}
          <Select
            aria-label="Another value"
            value={shown.includes(quantity) ? "" : quantity}
            onChange={(q) => q !== "" && setQuantity(q as Quantity)}
            popupMatchSelectWidth={false}
            options={[
              { value: "", label: "another value" },
              ...others.map((q) => ({ value: q.key, label: q.label })),
            ]}
          />
        </div>
        <p className={css.keypadShown}>
          <output aria-label={words.quantity(quantity).label}>{typed[quantity] || "0"}</output>{" "}
          <span>{words.symbol(dimension)}</span>
        </p>
        <div className={css.keypadKeys}>
          {KEYS.map((key) => (
            <button type="button" key={key} onClick={() => press(key)}>
              {key}
            </button>
          ))}
        </div>
        {trouble && (
          <p className="bad" role="alert">
            {trouble}
          </p>
        )}
        <div className={css.keypadActs}>
          <Button onClick={erase}>Delete</Button>
          <Button type="primary" onClick={send}>
            Save
          </Button>
        </div>
      </div>
    </Modal>
  );
}
