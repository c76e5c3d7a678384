// The school's own warm-up list.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Checkbox, Input, InputNumber } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../../app/api";
import { TableRoom } from "../../ui/TableRoom";
import { ListFoot } from "./ListFoot";

type Movement = Schemas["Movement"];

export function WarmUpList({ movements, ours }: { movements: Movement[]; ours: boolean }) {
  const [edited, setEdited] = useState<Movement[]>();
  const rows = edited ?? movements;
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (list: Movement[] | null) =>
      answered(api.PUT("/api/v1/warm-up-list", { body: { id: uuid(), movements: list } })),
    onSuccess: async () => {
      await queries.invalidateQueries();
      setEdited(undefined);
    },
  });
  const put = (index: number, part: Partial<Movement>) =>
    setEdited(rows.map((row, i) => (i === index ? { ...row, ...part } : row)));
  return (
    <>
      <TableRoom of="Warm-up list">
        <table className="plan">
          <thead>
            <tr>
              <th scope="col">Movement</th>
              <th scope="col">How</th>
              <th scope="col">Times</th>
              <th scope="col">Each side</th>
              <th scope="col">
                <span className="sr-only">Order</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={row.key}>
                <td>
                  <Input
                    aria-label={`Movement ${i + 1}`}
                    value={row.label}
                    onChange={(e) => put(i, { label: e.target.value })}
                  />
                </td>
                <td className="wide">
                  <Input
                    aria-label={`How movement ${i + 1} is done`}
                    value={row.how}
                    onChange={(e) => put(i, { how: e.target.value })}
                  />
                </td>
                <td>
                  <InputNumber
                    aria-label={`Times of movement ${i + 1}`}
                    min={1}
                    max={100}
                    precision={0}
                    controls={false}
                    value={row.repetitions}
                    onChange={(value) => put(i, { repetitions: value ?? 1 })}
                  />
                </td>
                <td className="middle">
                  <Checkbox
                    aria-label={`Each side in movement ${i + 1}`}
                    checked={row.each_side}
                    onChange={(e) => put(i, { each_side: e.target.checked })}
                  />
                </td>
                <td className="order">
                  <button
                    type="button"
                    className="order-act"
                    aria-label={`Move ${row.label} up`}
                    disabled={i === 0}
                    onClick={() => {
                      const moved = [...rows];
                      moved.splice(i - 1, 0, ...moved.splice(i, 1));
                      setEdited(moved);
                    }}
                  >
                    ↑
                  </button>
                  <button
                    type="button"
                    className="order-act"
                    aria-label={`Remove ${row.label}`}
                    onClick={() => setEdited(rows.filter((_, j) => j !== i))}
                  >
                    ✕
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </TableRoom>
      <ListFoot
        error={save.error}
        acts={{
          add: "Add a movement",
          save: "Save the list",
          leave: "Leave it as it was",
          ours: "Our list again",
        }}
        add={() =>
          setEdited([
            ...rows,
            { key: uuid(), label: "", how: "", repetitions: 10, each_side: false },
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
