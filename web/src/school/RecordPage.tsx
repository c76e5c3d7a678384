// Who saw children's records, took records out and erased them; and what is past its time.

import { useInfiniteQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { answered, api, type Schemas } from "../app/api";
import { useMe, usePlayers } from "../app/asked";
import { keys } from "../app/keys";
import { ZONE } from "../app/local";
import { usePeople } from "../shots/queries";
import { day, minute } from "../ui/day";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { SchoolHead } from "../ui/SchoolHead";
import css from "./RecordPage.module.css";

interface Wanted {
  person?: string;
  player?: string;
  act?: string;
}

export function RecordPage() {
  const me = useMe();
  const [wanted, setWanted] = useState<Wanted>({});
  const found = useInfiniteQuery({
    queryKey: keys.audit(wanted),
    queryFn: ({ pageParam }) =>
      answered(api.GET("/api/v1/audit", { params: { query: { ...wanted, before: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => (last.earlier ? last.entries.at(-1)?.id : undefined),
    enabled: me.data?.may_own === true,
    placeholderData: (before) => before,
  });
  if (me.data && !me.data.may_own) {
    return (
      <div className="page">
        <SchoolHead />
        <Nothing title="For owners of the school">
          <p>The record of who saw and took what is theirs to read.</p>
        </Nothing>
      </div>
    );
  }
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  const pages = found.data?.pages ?? [];
  const [latest] = pages;
  if (!latest) return <Loading />;
  const { acts, past, keep_years } = latest;
  const entries = pages.flatMap((page) => page.entries);
  const all = Object.values(wanted).every((part) => part === undefined);
  return (
    <div className="page">
      <SchoolHead />
      <div className="page-head">
        <div>
          <h1>Record</h1>
          <p className="quiet">
            Who read children’s records, took records out, erased them, or changed who may do what
            and how they sign in.
          </p>
        </div>
      </div>
      {past.length > 0 && (
        <>
          <h2>Past their time</h2>
          <p>
            Your house rule keeps records {keep_years} years after a player’s last session. Take out
            and erase what is older:
          </p>
          <ul className="rows">
            {past.map(({ id, name, last_session }) => (
              <li key={id}>
                <Link to={`/players/${id}`} className="row-link">
                  <span className="row-name">{name}</span>
                  <span className="row-aim">last here on {day(last_session, ZONE)}</span>
                </Link>
              </li>
            ))}
          </ul>
        </>
      )}
      {(entries.length > 0 || !all) && <Choices wanted={wanted} change={setWanted} acts={acts} />}
      {entries.length === 0 && all && (
        <Nothing title="Nothing to tell yet">
          <p>Reading a child’s records is the first thing that will stand here.</p>
        </Nothing>
      )}
      {entries.length === 0 && !all && (
        <Nothing title="Nothing of the kind">
          <p>Nobody did this, as far back as the record goes.</p>
          <Button onClick={() => setWanted({})}>Show all of it</Button>
        </Nothing>
      )}
      {entries.length > 0 && (
        <ul className={`rows ${css.audit}`}>
          {entries.map((entry) => (
            <Entry key={entry.id} entry={entry} />
          ))}
        </ul>
      )}
      {found.hasNextPage && (
        <Button onClick={() => found.fetchNextPage()} loading={found.isFetchingNextPage}>
          Show earlier ones
        </Button>
      )}
    </div>
  );
}

function Entry({ entry }: { entry: Schemas["AuditEntry"] }) {
  return (
    <li>
      <time dateTime={entry.at}>
        {day(entry.at, ZONE)}, {minute(entry.at, ZONE)}
      </time>
      <b>{entry.person}</b>
      <span>
        {entry.what}
        {entry.player && `: ${entry.player}`}
        {entry.about && <small> {entry.about}</small>}
      </span>
    </li>
  );
}

/** Of whom, by whom and what is shown. */
function Choices(props: {
  wanted: Wanted;
  change: (to: Wanted) => void;
  acts: Schemas["AuditAct"][];
}) {
  const { wanted, change, acts } = props;
  const people = usePeople(true);
  const players = usePlayers();
  const choices = [
    {
      part: "person" as const,
      label: "Who",
      any: "Everyone",
      options: people.data?.map(({ id, name }) => ({ value: id, label: name })),
    },
    {
      part: "act" as const,
      label: "What",
      any: "Everything",
      options: acts.map(({ key, label }) => ({
        value: key,
        label: label.charAt(0).toUpperCase() + label.slice(1),
      })),
    },
    {
      part: "player" as const,
      label: "Whose records",
      any: "Everybody’s",
      options: players.data?.map(({ id, name }) => ({ value: id, label: name })),
    },
  ];
  return (
    <div className={css.auditChoices}>
      {choices.map(({ part, label, any, options }) => (
        <div key={part}>
          <span className="quiet" aria-hidden="true">
            {label}
          </span>
          <Select
            aria-label={label}
            value={wanted[part] ?? ""}
            onChange={(value) => change({ ...wanted, [part]: value || undefined })}
            options={[{ value: "", label: any }, ...(options ?? [])]}
            showSearch
            optionFilterProp="label"
          />
        </div>
      ))}
    </div>
  );
}
