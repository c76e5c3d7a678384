// What the school trains by: protocols in levels, and what there is to swing.

import { Button } from "antd";
import { useState } from "react";
import { useWords } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading, Trouble } from "../ui/Notice";
import { Implements } from "./Implements";
import css from "./ProgrammesPage.module.css";
import { ProtocolForm } from "./ProtocolForm";
import { type ProtocolView, useDropProtocol, useProtocols } from "./queries";
import { setOf, setWords } from "./sets";

export function ProgrammesPage() {
  const found = useProtocols();
  const words = useWords();
  const [editing, setEditing] = useState<ProtocolView | "new">();
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  return (
    <div className="page">
      <div className={`page-head ${css.head}`}>
        <div>
          <h1>Programmes</h1>
          <p className="quiet">
            A protocol is a list of sets, in levels. A programme lays protocols over weeks on a
            player’s page.
          </p>
        </div>
        <Button onClick={() => setEditing("new")}>Write a protocol</Button>
      </div>
      <h2>Protocols</h2>
      {found.data.map((one) => (
        <Protocol key={one.id} of={one} edit={() => setEditing(one)} />
      ))}
      <h2>Implements</h2>
      <Implements words={words} missing={found.data.flatMap((one) => one.missing)} />
      {editing && (
        <ProtocolForm
          of={editing === "new" ? undefined : editing}
          close={() => setEditing(undefined)}
        />
      )}
    </div>
  );
}

function Protocol({ of, edit }: { of: ProtocolView; edit: () => void }) {
  const { protocol, volumes } = of;
  const drop = useDropProtocol();
  const most = volumes[volumes.length - 1] ?? [0, 0];
  return (
    <details className={css.protocol}>
      <summary>
        <b>{protocol.name}</b>
        <span>{protocol.about}</span>
        <small>
          {protocol.levels.length} {protocol.levels.length === 1 ? "level" : "levels"} · up to{" "}
          {most[0]} all-out of {most[1]} swings
        </small>
      </summary>
      {of.missing.length > 0 && (
        <p className={css.missing}>
          Not among your implements: {of.missing.join(", ")}. Add them below, with their mass.
        </p>
      )}
      {of.kneeling && <p className="quiet">{of.kneeling}</p>}
      <div className={css.levels}>
        {protocol.levels.map((level, at) => (
          <div key={level.name}>
            <h3>{level.name}</h3>
            {level.changes && <p className="quiet">{level.changes}</p>}
            <ol className={css.sets}>
              {level.sets.map((set, place) => (
                <li key={place}>
                  <b>{set.swings}</b> {setOf(set)} <small>{setWords(set)}</small>
                </li>
              ))}
            </ol>
            <p className="quiet">
              {volumes[at]?.[0]} all-out of {volumes[at]?.[1]} swings
            </p>
          </div>
        ))}
      </div>
      {protocol.source && <p className="quiet">Rests on: {protocol.source}</p>}
      <p className={css.acts}>
        <button type="button" className="link" onClick={edit}>
          {of.of_house ? "Change it for your school" : "Change"}
        </button>
        {of.own && (
          <button type="button" className="link" onClick={() => drop.mutate(of.id)}>
            {of.of_house ? "Take ours again" : "Take it out"}
          </button>
        )}
      </p>
      <FormTrouble error={drop.error} />
    </details>
  );
}
