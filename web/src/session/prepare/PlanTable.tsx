// The blocks to hit: edited, reordered, repeated.

import { Button, Checkbox, Input, InputNumber, Select } from "antd";
import { v7 as uuid } from "uuid";
import type { Quantity, Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { TableRoom } from "../../ui/TableRoom";
import { GearOf } from "./GearOf";
import css from "./PlanTable.module.css";
import type { PlannedBlock } from "./queries";

export interface PlannedRow {
  id: string;
  plan: PlannedBlock;
}

/** Rows with identifiers of their own for blocks that have none yet. */
export function asRows(blocks: PlannedBlock[]): PlannedRow[] {
  return blocks.map((plan) => ({ id: uuid(), plan }));
}

/** "27 balls in 9 blocks". */
export function PlanCount({ rows }: { rows: PlannedRow[] }) {
  const balls = rows.reduce((sum, row) => sum + (row.plan.balls || 0), 0);
  return (
    <span>
      <b>{balls}</b> {balls === 1 ? "ball" : "balls"} in {rows.length}{" "}
      {rows.length === 1 ? "block" : "blocks"}
    </span>
  );
}

interface Props {
  rows: PlannedRow[];
  change: (rows: PlannedRow[]) => void;
  shown: Quantity[];
  words: Words;
  held: boolean;
}

export function PlanTable({ rows, change, shown, words, held }: Props) {
  const put = (index: number, plan: Partial<PlannedBlock>) =>
    change(rows.map((row, i) => (i === index ? { ...row, plan: { ...row.plan, ...plan } } : row)));
  const move = (from: number, to: number) => {
    const moved = [...rows];
    const [row] = moved.splice(from, 1);
    if (row) moved.splice(to, 0, row);
    change(moved);
  };
  return (
    <section aria-label="Blocks">
      <TableRoom of="Table">
        <table className="plan">
          <thead>
            <tr>
              <th scope="col">Block</th>
              <th scope="col">Aim</th>
              <th scope="col">Balls</th>
              <th scope="col">Rest, s</th>
              <th scope="col">Full effort</th>
              <th scope="col">
                <span className="sr-only">Order</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ id, plan }, i) => (
              <tr key={id} className={held && plan.full_effort ? "held" : undefined}>
                <td>
                  <Input
                    aria-label={`Label of block ${i + 1}`}
                    value={plan.label}
                    onChange={(e) => put(i, { label: e.target.value })}
                  />
                  {plan.club && <small>{words.club(plan.club)}</small>}
                  <GearOf index={i} gear={plan.gear} change={(gear) => put(i, { gear })} />
                </td>
                <td>
                  <Aim
                    index={i}
                    target={plan.target ?? null}
                    change={(target) => put(i, { target })}
                    shown={shown}
                    words={words}
                  />
                </td>
                <td>
                  <InputNumber
                    aria-label={`Balls of block ${i + 1}`}
                    min={1}
                    max={200}
                    precision={0}
                    controls={false}
                    value={plan.balls}
                    onChange={(value) => put(i, { balls: value ?? 1 })}
                  />
                </td>
                <td>
                  <InputNumber
                    aria-label={`Rest of block ${i + 1}`}
                    min={0}
                    max={1800}
                    precision={0}
                    controls={false}
                    value={plan.rest_s ?? 0}
                    onChange={(value) => put(i, { rest_s: value ?? 0 })}
                  />
                </td>
                <td className="middle">
                  <Checkbox
                    aria-label={`Full effort in block ${i + 1}`}
                    checked={plan.full_effort ?? false}
                    onChange={(e) => put(i, { full_effort: e.target.checked })}
                  />
                  {held && plan.full_effort && <small>held</small>}
                </td>
                <td className="order">
                  <OrderAct
                    label={`Move ${plan.label} up`}
                    off={i === 0}
                    act={() => move(i, i - 1)}
                  >
                    ↑
                  </OrderAct>
                  <OrderAct
                    label={`Move ${plan.label} down`}
                    off={i === rows.length - 1}
                    act={() => move(i, i + 1)}
                  >
                    ↓
                  </OrderAct>
                  <OrderAct
                    label={`Repeat ${plan.label}`}
                    act={() =>
                      change([...rows.slice(0, i + 1), { id: uuid(), plan }, ...rows.slice(i + 1)])
                    }
                  >
                    +
                  </OrderAct>
                  <OrderAct
                    label={`Remove ${plan.label}`}
                    act={() => change(rows.filter((row) => row.id !== id))}
                  >
                    ✕
                  </OrderAct>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </TableRoom>
      <div className="plan-foot">
        <Button
          onClick={() =>
            change([
              ...rows,
              { id: uuid(), plan: { label: `Block ${rows.length + 1}`, balls: 6, rest_s: 20 } },
            ])
          }
        >
          Add a block
        </Button>
      </div>
    </section>
  );
}

function OrderAct(props: { label: string; off?: boolean; act: () => void; children: string }) {
  return (
    <button
      type="button"
      className="order-act"
      aria-label={props.label}
      title={props.label}
      disabled={props.off}
      onClick={props.act}
    >
      {props.children}
    </button>
  );
}

interface AimProps {
  index: number;
  target: Schemas["Target"] | null;
  change: (target: Schemas["Target"] | null) => void;
  shown: Quantity[];
  words: Words;
}

/** What each ball should do: nothing, or a value within a range. */
function Aim({ index, target, change, shown, words }: AimProps) {
  const choices = target && !shown.includes(target.quantity) ? [target.quantity, ...shown] : shown;
  const dimension = target && words.quantity(target.quantity).dimension;
  const end = (which: "low" | "high", label: string) =>
    target &&
    dimension && (
      <InputNumber
        aria-label={`${label} of block ${index + 1}`}
        placeholder={which === "low" ? "least" : "most"}
        controls={false}
        value={
          target[which] == null ? null : Number(words.field(dimension, target[which] as number))
        }
        onChange={(value) =>
          change({ ...target, [which]: value == null ? null : words.internal(dimension, value) })
        }
      />
    );
  return (
    <div className={css.aimRow}>
      <Select
        aria-label={`Aim of block ${index + 1}`}
        value={target?.quantity ?? ""}
        popupMatchSelectWidth={false}
        onChange={(quantity) =>
          change(quantity === "" ? null : { quantity: quantity as Quantity, low: null, high: null })
        }
        options={[
          { value: "", label: "no aim" },
          ...choices.map((q) => ({ value: q, label: words.quantity(q).label.toLowerCase() })),
        ]}
      />
      {end("low", "Least")}
      {target && <span aria-hidden="true">–</span>}
      {end("high", "Most")}
      {dimension && <small>{words.symbol(dimension)}</small>}
    </div>
  );
}
