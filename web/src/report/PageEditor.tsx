// Choosing what goes on a player's page, and saying it in the coach's words. What was computed
// stays beside it in the record.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Radio, Select } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas, type Units } from "../app/api";
import { useMe, useSchool } from "../app/asked";
import { keys } from "../app/keys";
import { UNIT_LABELS, type Words, wordsOf } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { useKept } from "../ui/kept";
import { Loading, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import {
  asked,
  type CalledBy,
  calledBy,
  type Edits,
  editsOf,
  type Line,
  NONE,
  type Part,
} from "./edits";
import { MakeLink } from "./MakeLink";
import css from "./PageEditor.module.css";
import { PageLine } from "./PageLine";
import { type About, type Reader, usePage, usePageDraft, usePages } from "./queries";
import { TakeHome } from "./TakeHome";
import sheet from "./TakeHome.module.css";

type Kept = Schemas["PageView"];

const PARTS: [Part, string, string][] = [
  ["seen", "What we saw", "At most three sentences"],
  ["means", "What it means", "For this player's golf"],
  ["until", "Until next time", "What to do"],
  ["next", "Next", "Targets and dates"],
];
const READERS: [Reader, string][] = [
  ["child", "A child"],
  ["club_player", "A club player"],
  ["elite", "An elite player"],
];

export function PageEditor({ about, words }: { about: About; words: Words }) {
  const pages = usePages(about.player);
  const before = pages.data?.find((page) =>
    about.session
      ? page.session === about.session
      : !page.session && page.days[0] === about.from && page.days[1] === about.to,
  );
  const kept = usePage(before?.id);
  if (pages.isError && !pages.data) return <Trouble error={pages.error} retry={pages.refetch} />;
  if (!pages.data || (before && !kept.data)) return <Loading />;
  return <Editor about={about} kept={kept.data} words={words} />;
}

function Editor({ about, kept, words }: { about: About; kept: Kept | undefined; words: Words }) {
  const name = `page ${about.session ?? `${about.player} ${about.from} ${about.to}`}`;
  const [id] = useState(() => kept?.id ?? uuid());
  const [edits, setEdits, letGo] = useKept<Edits>(name, kept ? editsOf(kept.page) : NONE);
  const [changed, setChanged] = useState(false);
  const units = edits.units ?? kept?.page.units ?? words.units;
  const reading = wordsOf(words.vocabulary, units);
  const draft = usePageDraft(about, edits.reader, units);
  const school = useSchool();
  const queries = useQueryClient();
  const change = (next: Partial<Edits>) => {
    setEdits({ ...edits, ...next });
    setChanged(true);
  };
  const forget = (line: string) => {
    const { [line]: _, ...rest } = edits.words;
    change({ words: rest });
  };
  const write = useMutation({
    mutationFn: (body: Schemas["PageWritten"]) =>
      answered(
        api.PUT("/api/v1/players/{player}/pages/{page}", {
          params: { path: { player: about.player, page: id } },
          body,
        }),
      ),
    onSuccess: (written, { lines }) => {
      const ticks = Object.fromEntries(lines.map((line) => [line.key ?? "", true]));
      setEdits({ ...edits, written: true, ticks: { ...ticks, ...edits.ticks } });
      letGo();
      setChanged(false);
      queries.setQueryData(keys.page.one(id), written);
      queries.invalidateQueries({ queryKey: keys.page.list(about.player) });
    },
  });
  if (draft.isError && !draft.data) return <Trouble error={draft.error} retry={draft.refetch} />;
  if (!draft.data) return <Loading />;
  const { lines, child, player_name } = draft.data;
  const reader = edits.reader ?? draft.data.reader;
  const title = edits.title ?? draft.data.title;
  const called = edits.called ?? calledBy(kept?.page.called, player_name, child);
  const of = (line: Line) => `${reader} ${line.key}`;
  const ticked = (line: Line) => edits.ticks[line.key] ?? (line.ticked && !edits.written);
  const text = (line: Line) => edits.words[of(line)] ?? said(line.said, reading);
  const seen =
    lines.filter((line) => line.part === "seen" && ticked(line)).length +
    edits.own.filter((line) => line.part === "seen").length;
  const body = (): Schemas["PageWritten"] => ({
    about: { ...asked(about), reader, units },
    title,
    called_by: called,
    lines: [
      ...lines.filter(ticked).map((line) => ({
        key: line.key,
        part: line.part,
        ...(edits.words[of(line)] !== undefined && { said: edits.words[of(line)] }),
      })),
      ...edits.own.map(({ part, said }) => ({ part, said })),
    ],
  });
  const shown = write.data?.shown ?? kept?.shown;
  return (
    <div className={css.columns}>
      <form
        className={css.editor}
        onSubmit={(event) => {
          event.preventDefault();
          write.mutate(body());
        }}
      >
        <div className={css.for}>
          <Radio.Group
            aria-label="Who reads it"
            value={reader}
            onChange={(e) => change({ reader: e.target.value })}
            options={READERS.map(([value, label]) => ({ value, label }))}
          />
          <label>
            Units{" "}
            <Select<Units>
              aria-label="Units"
              value={units}
              onChange={(next) => change({ units: next })}
              options={Object.entries(UNIT_LABELS).map(([value, label]) => ({
                value: value as Units,
                label,
              }))}
            />
          </label>
          <label>
            Calls them{" "}
            <Select<CalledBy>
              aria-label="Calls them"
              value={called}
              onChange={(next) => change({ called: next })}
              options={[
                ...(child ? [] : [{ value: "name" as const, label: player_name }]),
                { value: "first_name", label: player_name.split(/\s+/)[0] },
                { value: "initials", label: "by initials" },
              ]}
            />
          </label>
        </div>
        <label className={css.title}>
          Heading
          <Input value={title} onChange={(e) => change({ title: e.target.value })} />
        </label>
        {lines.length === 0 && (
          <p role="status">
            Nothing was hit in it and nothing is decided yet: the lines are yours to write.
          </p>
        )}
        {PARTS.map(([part, heading, hint]) => (
          <fieldset key={part} className={css.part}>
            <legend>{heading}</legend>
            <p className="quiet">{part === "seen" ? `${hint}: ${seen} ticked` : hint}</p>
            {lines
              .filter((line) => line.part === part)
              .map((line) => (
                <PageLine
                  key={line.key}
                  ticked={ticked(line)}
                  tick={(on) => change({ ticks: { ...edits.ticks, [line.key]: on } })}
                  text={text(line)}
                  label={`In your words: ${said(line.said, reading)}`}
                  write={(words) =>
                    change({
                      words: { ...edits.words, [of(line)]: words },
                      ticks: { ...edits.ticks, [line.key]: true },
                    })
                  }
                  back={edits.words[of(line)] !== undefined ? () => forget(of(line)) : undefined}
                />
              ))}
            {edits.own
              .filter((line) => line.part === part)
              .map((line) => (
                <PageLine
                  key={line.id}
                  ticked
                  tick={() => change({ own: edits.own.filter((o) => o.id !== line.id) })}
                  text={line.said}
                  label={`Your own line, ${heading.toLowerCase()}`}
                  write={(said) =>
                    change({
                      own: edits.own.map((o) => (o.id === line.id ? { ...o, said } : o)),
                    })
                  }
                />
              ))}
            <button
              type="button"
              className="text-act"
              onClick={() => change({ own: [...edits.own, { id: uuid(), part, said: "" }] })}
            >
              Write a line
            </button>
          </fieldset>
        ))}
        <FormTrouble error={write.error} />
        <div className={css.write}>
          <Button type="primary" htmlType="submit" loading={write.isPending}>
            {shown ? "Write it anew" : "Write the page"}
          </Button>
          {shown && changed && <span role="status">Changed since it was written.</span>}
        </div>
      </form>
      <div className={css.written}>
        {shown ? (
          <>
            <TakeHome page={shown} school={school.data?.name ?? ""} />
            <Acts about={about} id={id} name={player_name} />
          </>
        ) : (
          <p className={css.blank}>
            The page stands here when it is written: to print, or as a link for the player.
          </p>
        )}
      </div>
    </div>
  );
}

/** What can be done with a written page. */
function Acts({ about, id, name }: { about: About; id: string; name: string }) {
  const [linking, setLinking] = useState(false);
  const me = useMe();
  return (
    <div className={sheet.acts}>
      <Button onClick={() => window.print()}>Print, or save as PDF</Button>
      {me.data?.may_keep && <Button onClick={() => setLinking(true)}>Make a link</Button>}
      {linking && (
        <MakeLink player={about.player} name={name} page={id} close={() => setLinking(false)} />
      )}
    </div>
  );
}
