// Club length by height against speed, across the children of a group.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { useWords, type Words } from "../app/vocabulary";
import { VerdictHead } from "../trials/VerdictHead";
import { BenchHead } from "../ui/BenchHead";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import { TableRoom } from "../ui/TableRoom";
import css from "./ClubLength.module.css";
import { GroupForm } from "./GroupForm";
import { LengthCurves } from "./LengthCurves";

type View = Schemas["ClubLengthView"];
type Child = Schemas["ChildView"];

export function ClubLengthPage() {
  const words = useWords();
  const [groups, setGroups] = useState<string[]>([]);
  const [splits, setSplits] = useState<string>();
  const [editing, setEditing] = useState<string>();
  const known = useQuery({
    queryKey: keys.groups,
    queryFn: () => answered(api.GET("/api/v1/groups")),
  });
  const query = {
    ...(groups.length > 0 && { groups: groups.join(",") }),
    ...(splits !== undefined && { splits: splits.trim() || "none" }),
  };
  const found = useQuery({
    queryKey: keys.clubLength(query),
    queryFn: () => answered(api.GET("/api/v1/club-length", { params: { query } })),
    placeholderData: (before) => before,
  });
  if (!words || !known.data) return <Loading />;
  if (!found.data)
    return found.isError ? <Trouble error={found.error} retry={found.refetch} /> : <Loading />;
  const told = found.data;
  return (
    <div className="page">
      <BenchHead />
      <h1 className="sr-only">Club length</h1>
      <div className={css.choices}>
        <label>
          Group
          <Select
            mode="multiple"
            optionFilterProp="label"
            value={groups}
            onChange={setGroups}
            placeholder="Every child of the school"
            aria-label="Groups"
            options={known.data.map(({ id, name }) => ({ value: id, label: name }))}
          />
        </label>
        <Button onClick={() => setEditing("new")}>New group</Button>
        {groups.length === 1 && groups[0] && (
          <Button onClick={() => setEditing(groups[0])}>Change group</Button>
        )}
        <label>
          Split at height, m
          <Input
            value={splits ?? told.read.splits.join(", ")}
            onChange={(e) => setSplits(e.target.value)}
            placeholder="no split"
          />
        </label>
      </div>
      {found.isError && <FormTrouble error={found.error} />}
      {editing && (
        <GroupForm
          key={editing}
          group={known.data.find(({ id }) => id === editing)}
          close={(saved) => {
            setEditing(undefined);
            if (saved) setGroups([saved]);
          }}
        />
      )}
      <div className={css.said}>
        <VerdictHead verdict={told.read.verdict} words={words} />
      </div>
      <LengthCurves view={told} words={words} />
      <ul className={css.cautions}>
        {told.read.cautions.map((caution) => (
          <li key={said(caution, words)}>{said(caution, words)}</li>
        ))}
      </ul>
      {told.read.left_out.length > 0 && (
        <>
          <h3>Not in the picture</h3>
          <ul className={css.cautions}>
            {told.read.left_out.map((out) => (
              <li key={said(out, words)}>{said(out, words)}</li>
            ))}
          </ul>
        </>
      )}
      {told.children.length > 0 ? (
        <Children view={told} words={words} />
      ) : (
        <p className="quiet">No child is in it: a player’s page takes the year of birth.</p>
      )}
    </div>
  );
}

/** Every child with what was measured; a click writes it anew. */
function Children({ view, words }: { view: View; words: Words }) {
  // By identifier: a group that arrives meanwhile has others in these places.
  const [side, setSide] = useState<string[]>([]);
  const points = (child: number, quantity: "club_speed" | "hand_speed") =>
    view.read.groups
      .flatMap((group) => group.curves)
      .filter((curve) => curve.quantity === quantity)
      .flatMap((curve) => curve.points)
      .filter((point) => point.child === child);
  const speeds = (child: number, quantity: "club_speed" | "hand_speed") =>
    points(child, quantity)
      .map(({ mean, n }) => `${words.bare("speed", mean)} (n ${n})`)
      .join(", ") || "–";
  const shares = (child: number) =>
    points(child, "club_speed")
      .map(({ share }) => words.bare("ratio", share))
      .join(", ") || "–";
  const rows = view.children
    .map((child, i) => ({ child, i }))
    .sort((a, b) => (a.child.height_m ?? 0) - (b.child.height_m ?? 0));
  const beside = rows.filter(({ child }) => side.includes(child.id));
  const tick = (id: string, on: boolean) =>
    setSide((side) => (on ? [...side.slice(-1), id] : side.filter((at) => at !== id)));
  return (
    <section aria-label="Children">
      <h2 className="minor">Children</h2>
      {beside.length === 2 && (
        <div className={css.beside}>
          {beside.map(({ child, i }) => (
            <dl key={child.id}>
              <dt>{child.name}</dt>
              <dd>{child.height_m ? words.show("club_length", child.height_m) : "no height"}</dd>
              <dd>
                driver {child.driver_m ? words.show("club_length", child.driver_m) : "not measured"}
                , {shares(i)} of the height
              </dd>
              <dd>
                <b>{speeds(i, "club_speed")}</b> club speed, {words.symbol("speed")}
              </dd>
              <dd>{speeds(i, "hand_speed")} hand speed</dd>
            </dl>
          ))}
        </div>
      )}
      <p className="quiet">
        Tick two to see them side by side. A height or length is written with its unit: 126 cm, 4 ft
        2 in.
      </p>
      <TableRoom of="Table">
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">Child</th>
              <th scope="col">height</th>
              <th scope="col">driver</th>
              <th scope="col">of the height</th>
              <th scope="col">club speed, {words.symbol("speed")}</th>
              <th scope="col">hand speed</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ child, i }) => (
              <tr key={child.id}>
                <th scope="row">
                  <label>
                    <input
                      type="checkbox"
                      checked={side.includes(child.id)}
                      onChange={(e) => tick(child.id, e.target.checked)}
                    />{" "}
                    <span className={css.named}>{child.name}</span>
                    <span className={css.initials}>{child.initials}</span>
                  </label>
                </th>
                <Written child={child} field="height" value={child.height_m} words={words} />
                <Written child={child} field="driver" value={child.driver_m} words={words} />
                <td>{shares(i)}</td>
                <td>{speeds(i, "club_speed")}</td>
                <td>{speeds(i, "hand_speed")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </TableRoom>
    </section>
  );
}

/** A measure that is written over with its unit; what is refused stays as it was typed. */
function Written(props: {
  child: Child;
  field: "height" | "driver";
  value?: number | null;
  words: Words;
}) {
  const { child, field, value, words } = props;
  const client = useQueryClient();
  const [typed, setTyped] = useState<string>();
  const shown = value == null ? "" : words.show("club_length", value);
  const save = useMutation({
    mutationFn: (text: string) =>
      answered(
        api.PUT("/api/v1/players/{player}/club-measures", {
          params: { path: { player: child.id } },
          body: { [field]: text },
        }),
      ),
    onSuccess: () => {
      setTyped(undefined);
      client.invalidateQueries({ queryKey: keys.anyClubLength });
      client.invalidateQueries({ queryKey: keys.player.all(child.id) });
    },
  });
  const done = () => {
    if (typed !== undefined && typed.trim() !== "" && typed !== shown) save.mutate(typed);
    else setTyped(undefined);
  };
  return (
    <td>
      <Input
        className={css.written}
        size="small"
        aria-label={`${field === "height" ? "Height" : "Driver"} of ${child.name}`}
        value={typed ?? shown}
        status={save.isError ? "error" : undefined}
        placeholder="–"
        onChange={(e) => setTyped(e.target.value)}
        onBlur={done}
        onPressEnter={done}
      />
      <FormTrouble error={save.error} />
    </td>
  );
}
