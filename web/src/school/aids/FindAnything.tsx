// Finds players, sessions, decisions, clubs, devices, rules, pages, and what can be begun.

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Input, Modal } from "antd";
import { type KeyboardEvent, useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { useSettled } from "../../ui/settled";
import css from "./Aids.module.css";

const KINDS: Record<Schemas["Thing"]["kind"], string> = {
  player: "player",
  act: "do",
  page: "page",
  session: "session",
  decision: "decision",
  club: "club",
  device: "device",
  rule: "rule",
};

export function FindAnything({ close }: { close: () => void }) {
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
  const chosen = Math.min(at, things.length - 1);
  const go = (thing: Schemas["Thing"] | undefined) => {
    if (!thing) return;
    close();
    navigate(thing.path);
  };
  const pressed = (event: KeyboardEvent) => {
    if (event.nativeEvent.isComposing) return;
    if (event.key === "ArrowDown") setAt((chosen + 1) % Math.max(1, things.length));
    else if (event.key === "ArrowUp")
      setAt((chosen + things.length - 1) % Math.max(1, things.length));
    else if (event.key === "Enter") go(things[chosen]);
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
            <small>{KINDS[thing.kind]}</small>
            <b>{thing.label}</b>
            <span>{thing.about}</span>
          </div>
        ))}
      </div>
      {found.isError && <p role="alert">{found.error.message}</p>}
      {words !== "" && found.isSuccess && !found.isPlaceholderData && things.length === 0 && (
        <p className="quiet" role="status">
          Nothing fits “{words}”. Try the beginning of a name, a purpose, a month or a place.
        </p>
      )}
    </Modal>
  );
}
