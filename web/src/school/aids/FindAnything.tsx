// Finds players, sessions, decisions, clubs, devices, rules, pages, and what can be begun.

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Input, Modal } from "antd";
import { type KeyboardEvent, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { dated } from "../../ui/day";
import { useSettled } from "../../ui/settled";
import css from "./Aids.module.css";

interface Props {
  close: () => void;
  /** Shows the keys and the words in its place. */
  help: () => void;
}

export function FindAnything({ close, help }: Props) {
  const navigate = useNavigate();
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState(0);
  const words = useSettled(typed.trim(), 120);
  const found = useQuery({
    queryKey: keys.find(words),
    queryFn: () => answered(api.GET("/api/v1/find", { params: { query: { words } } })),
    enabled: words !== "",
    placeholderData: keepPreviousData,
    staleTime: 10_000,
  });
  const things = words === "" ? [] : (found.data ?? []);
  // What is shown may still be what was typed before.
  const answers = words === typed.trim() && found.isSuccess && !found.isPlaceholderData;
  const [entered, setEntered] = useState(false);
  const chosen = Math.min(at, things.length - 1);
  const go = (thing: Schemas["Thing"] | undefined) => {
    if (!thing) return;
    close();
    navigate(thing.path);
  };
  // Who presses Enter before the answer comes means what comes.
  useEffect(() => {
    if (!entered || !answers) return;
    setEntered(false);
    go(things[0]);
  });
  const pressed = (event: KeyboardEvent) => {
    if (event.nativeEvent.isComposing) return;
    if (event.key === "ArrowDown") setAt((chosen + 1) % Math.max(1, things.length));
    else if (event.key === "ArrowUp")
      setAt((chosen + things.length - 1) % Math.max(1, things.length));
    else if (event.key === "Enter") answers ? go(things[chosen]) : setEntered(true);
    else return;
    event.preventDefault();
  };
  return (
    <Modal open onCancel={close} title="Find anything" footer={null} width={640}>
      <Input
        className={css.field}
        aria-label="What to find"
        role="combobox"
        aria-expanded={things.length > 0}
        aria-controls="found"
        aria-activedescendant={things.length > 0 ? `found-${chosen}` : undefined}
        placeholder="A player, a day, a club, “speed day Bram” …"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
          setEntered(false);
        }}
        onKeyDown={pressed}
        maxLength={200}
        autoComplete="off"
        autoFocus
      />
      <div className={css.found} id="found" role="listbox" aria-label="Found">
        {things.map((thing, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the field above has the keys
          <div
            key={`${thing.path} ${thing.label}`}
            id={`found-${i}`}
            role="option"
            aria-selected={i === chosen}
            tabIndex={-1}
            className={css.thing}
            onMouseMove={() => setAt(i)}
            onClick={() => go(thing)}
          >
            <small>{thing.kind === "act" ? "do" : thing.kind}</small>
            <b>{thing.label}</b>
            <span>
              {thing.about}
              {thing.day && `, ${dated(thing.day, true)}`}
            </span>
          </div>
        ))}
      </div>
      {found.isError && <p role="alert">{found.error.message}</p>}
      {words !== "" && answers && things.length === 0 && (
        <p className="quiet" role="status">
          Nothing fits “{words}”. Try the beginning of a name, a purpose, a month or a place. Of
          sessions and decisions the latest 400 are looked through, and all sessions of a player
          whose name you type.
        </p>
      )}
      <p>
        <button type="button" className="link" onClick={help}>
          Keys and words of the trade
        </button>
      </p>
    </Modal>
  );
}
