// What each device reported of a shot, and to which shot that belongs.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Select } from "antd";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import type { Words } from "../../app/vocabulary";
import { FormTrouble } from "../../ui/FormTrouble";
import { Reported } from "../../ui/Reported";
import type { SessionRead } from "./queries";
import css from "./Sources.module.css";

/** Shots offered for a reading: those hit about the same time. */
const NEIGHBOURS = 5;

interface Props {
  read: SessionRead;
  shot: Schemas["ShotView"];
  words: Words;
}

export function Sources({ read, shot, words }: Props) {
  const queries = useQueryClient();
  const pair = useMutation({
    mutationFn: ({ reading, to }: { reading: string; to: string | null }) =>
      answered(
        api.PUT("/api/v1/sessions/{session}/readings/{reading}/shot", {
          params: { path: { session: read.session.id, reading } },
          body: { shot: to, new_shot: uuid() },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.session.all(read.session.id) }),
  });
  if (shot.sources.length === 0) return null;
  const near = read.shots.filter(
    (other) => other.id !== shot.id && Math.abs(other.number - shot.number) <= NEIGHBOURS,
  );
  return (
    <>
      <h3>Devices</h3>
      {shot.sources.map((source) => (
        <div key={source.id} className={css.source}>
          <p>
            <b>{source.device_name}</b>
            <Select
              aria-label={`Where the reading of ${source.device_name} belongs`}
              variant="borderless"
              popupMatchSelectWidth={false}
              value=""
              onChange={(to) => pair.mutate({ reading: source.id, to: to === "alone" ? null : to })}
              options={[
                { value: "", label: "belongs here" },
                ...(shot.sources.length > 1
                  ? [{ value: "alone", label: "is a shot of its own" }]
                  : []),
                ...near.map((other) => ({
                  value: other.id,
                  label: `belongs to shot ${other.number}`,
                })),
              ]}
            />
          </p>
          {shot.sources.length > 1 && (
            <p className="quiet source-values">
              {words.vocabulary.quantities.map(({ key, label }) => {
                const value = (source.reading ?? shot.reading)[key];
                return value ? (
                  <span key={key}>
                    {label.toLowerCase()}{" "}
                    <Reported quantity={key} value={value} words={words} unit />
                  </span>
                ) : null;
              })}
            </p>
          )}
        </div>
      ))}
      <FormTrouble error={pair.error} />
    </>
  );
}
