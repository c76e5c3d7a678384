// What players of an age and a level usually reach: the school's own list, each with its source.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Input, InputNumber, Select } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Quantity, type Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { typed } from "../../ui/Measured";
import { TableRoom } from "../../ui/TableRoom";
import { LEVELS } from "../players/PlayerForm";
import { ListFoot } from "./ListFoot";
import css from "./ReferenceLevels.module.css";

type Level = Schemas["ReferenceLevel"];

/** A row as it is typed. */
interface Row {
  id: string;
  club: string;
  quantity: Quantity;
  from: number;
  to: number;
  level: Schemas["PlayingLevel"];
  value: string;
  source: string;
}

const VALUES: Quantity[] = ["club_speed", "ball_speed", "carry", "smash_factor"];

function rowsOf(levels: Level[], words: Words): Row[] {
  return levels.map((level) => ({
    id: uuid(),
    club: level.club,
    quantity: level.quantity,
    from: level.from_age,
    to: level.to_age,
    level: level.level,
    value: words.field(words.quantity(level.quantity).dimension, level.value),
    source: level.source,
  }));
}

export function ReferenceLevels(props: { levels: Level[]; ours: boolean; words: Words }) {
  const { levels, ours, words } = props;
  const [edited, setEdited] = useState<Row[]>();
  const [shown] = useState(() => rowsOf(levels, words));
  const rows = edited ?? shown;
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (list: Row[] | null) =>
      answered(
        api.PUT("/api/v1/reference-levels", {
          body: {
            id: uuid(),
            levels:
              list?.map((row) => ({
                club: row.club,
                quantity: row.quantity,
                from_age: row.from,
                to_age: row.to,
                level: row.level,
                value: {
                  value: typed(row.value),
                  unit: words.suffix(words.quantity(row.quantity).dimension),
                },
                source: row.source,
              })) ?? null,
          },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  const put = (id: string, part: Partial<Row>) =>
    setEdited(rows.map((row) => (row.id === id ? { ...row, ...part } : row)));
  return (
    <>
      <p className="quiet">
        Held beside a player of that age and level on their record. Put in the figures you trust,
        with where they come from.
      </p>
      <TableRoom of="Reference levels">
        <table className={`plan ${css.levels}`}>
          <thead>
            <tr>
              <th scope="col">Club</th>
              <th scope="col">Value</th>
              <th scope="col">Ages</th>
              <th scope="col">Players</th>
              <th scope="col">Usual</th>
              <th scope="col">Source</th>
              <th scope="col">
                <span className="sr-only">Order</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => {
              const name = `row ${i + 1}`;
              const { dimension } = words.quantity(row.quantity);
              return (
                <tr key={row.id}>
                  <td>
                    <Select
                      aria-label={`Club of ${name}`}
                      value={row.club}
                      popupMatchSelectWidth={false}
                      onChange={(club) => put(row.id, { club })}
                      options={words.vocabulary.clubs.map((c) => ({
                        value: c.key as string,
                        label: c.label,
                      }))}
                    />
                  </td>
                  <td>
                    <Select
                      aria-label={`Value of ${name}`}
                      value={row.quantity}
                      popupMatchSelectWidth={false}
                      onChange={(quantity) => put(row.id, { quantity, value: "" })}
                      options={VALUES.map((q) => ({ value: q, label: words.quantity(q).label }))}
                    />
                  </td>
                  <td className={css.ages}>
                    <InputNumber
                      aria-label={`Youngest of ${name}`}
                      min={0}
                      max={110}
                      precision={0}
                      controls={false}
                      value={row.from}
                      onChange={(from) => put(row.id, { from: from ?? 0 })}
                    />
                    –
                    <InputNumber
                      aria-label={`Oldest of ${name}`}
                      min={0}
                      max={110}
                      precision={0}
                      controls={false}
                      value={row.to}
                      onChange={(to) => put(row.id, { to: to ?? 0 })}
                    />
                  </td>
                  <td>
                    <Select
                      aria-label={`Players of ${name}`}
                      value={row.level}
                      popupMatchSelectWidth={false}
                      onChange={(level) => put(row.id, { level })}
                      options={Object.entries(LEVELS).map(([value, label]) => ({
                        value: value as Row["level"],
                        label,
                      }))}
                    />
                  </td>
                  <td>
                    <Input
                      aria-label={`Figure of ${name}`}
                      value={row.value}
                      suffix={words.symbol(dimension)}
                      inputMode="decimal"
                      onChange={(e) => put(row.id, { value: e.target.value })}
                    />
                  </td>
                  <td className="wide">
                    <Input
                      aria-label={`Source of ${name}`}
                      value={row.source}
                      onChange={(e) => put(row.id, { source: e.target.value })}
                    />
                  </td>
                  <td className="order">
                    <button
                      type="button"
                      className="order-act"
                      aria-label={`Remove ${name}`}
                      onClick={() => setEdited(rows.filter((other) => other.id !== row.id))}
                    >
                      ✕
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </TableRoom>
      <ListFoot
        error={save.error}
        acts={{
          add: "Add a reference",
          save: "Save the references",
          leave: "Leave them as they were",
          ours: "Our references again",
        }}
        add={() =>
          setEdited([
            ...rows,
            {
              id: uuid(),
              club: "driver",
              quantity: "club_speed",
              from: 19,
              to: 49,
              level: "club",
              value: "",
              source: "",
            },
          ])
        }
        edited={edited !== undefined}
        saving={save.isPending}
        save={() => save.mutate(rows)}
        leave={() => setEdited(undefined)}
        own={!ours}
        takeOurs={() => save.mutate(null)}
      />
    </>
  );
}
