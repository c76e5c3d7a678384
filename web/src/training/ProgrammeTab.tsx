// A player's programme: what comes next, the weeks on their dates, the level of each protocol.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Modal, Select } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answered, api, type Schemas } from "../app/api";
import { useMe } from "../app/asked";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { Cautions } from "../session/Cautions";
import { day } from "../ui/day";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import { Secret } from "../ui/SecretOnce";
import { ChangeDay, ChangePlan } from "./ChangePlan";
import { checkIn } from "./check-in";
import { Implements } from "./Implements";
import { ProgrammeForm } from "./ProgrammeForm";
import css from "./ProgrammeTab.module.css";
import { ProgrammeWeeks } from "./ProgrammeWeeks";
import { type ProgrammeView, useBeginRun, useProgramme, useProtocols } from "./queries";

export function ProgrammeTab({ player, words }: { player: string; words: Words }) {
  const found = useProgramme(player);
  const me = useMe();
  const [laying, setLaying] = useState(false);
  const [chosen, setChosen] = useState<Schemas["TrainingDayView"]>();
  const [changing, setChanging] = useState(false);
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  const view = found.data;
  const keeps = me.data?.may_keep === true;
  return (
    <section aria-label="Programme">
      <NextTraining player={player} view={view} words={words} />
      {view.programme ? (
        <>
          <div className={css.head}>
            <h2>{view.programme.name}</h2>
            <p className="quiet">
              {day(view.programme.begins, "UTC")}, {view.programme.weeks} weeks
              {view.programme.at && ` · at ${view.programme.at.slice(0, 5)}`}
            </p>
            <p className={css.acts}>
              <button type="button" className="link" onClick={() => setChanging(true)}>
                Ill, away, or end it
              </button>
              {keeps && (
                <button type="button" className="link" onClick={() => setLaying(true)}>
                  Lay another
                </button>
              )}
            </p>
          </div>
          <ProgrammeWeeks programme={view.programme} days={view.days} choose={setChosen} />
          <Calendar player={player} view={view} keeps={keeps} />
        </>
      ) : (
        <p className={css.none}>
          No programme is laid: weeks of protocols on the player’s own days, with rest between.{" "}
          {keeps && (
            <Button type="primary" onClick={() => setLaying(true)}>
              Lay one
            </Button>
          )}
        </p>
      )}
      <Levels player={player} view={view} words={words} />
      <Held view={view} />
      <details className={css.own}>
        <summary>Implements of the player’s own</summary>
        <p className="quiet">
          Beside those of the school, which stand under Programmes; masses are told beside the
          player’s own driver where the bag knows it.
        </p>
        <Implements words={words} missing={[]} player={player} />
      </details>
      <Cautions said={view.effort_cautions} />
      {laying && (
        <ProgrammeForm player={player} today={view.today} close={() => setLaying(false)} />
      )}
      {chosen && <ChangeDay player={player} chosen={chosen} close={() => setChosen(undefined)} />}
      {changing && <ChangePlan player={player} view={view} close={() => setChanging(false)} />}
    </section>
  );
}

/** What comes next, and how to begin it. */
function NextTraining(props: { player: string; view: ProgrammeView; words: Words }) {
  const { player, view, words } = props;
  const begin = useBeginRun(player);
  const navigate = useNavigate();
  const next = view.days.find(({ state }) => ["under_way", "today", "to_come"].includes(state));
  const protocol = next?.day_for.kind === "protocol" ? next.day_for.protocol : undefined;
  const level = view.levels.find((one) => one.protocol === protocol);
  const [made = 0, most = 0] = view.week;
  const today = next?.state === "today";
  return (
    <div className={css.next}>
      <p className={css.said}>
        {next
          ? `${next.state === "under_way" ? "Under way" : today ? "Today" : day(next.date, "UTC")}: ${next.title}${level ? `, level ${level.name}` : ""}.`
          : view.programme
            ? "The programme is over."
            : "No training is planned."}
      </p>
      <p className="quiet">
        {level && (
          <>
            Level {level.name}: {said(level.said, words)}.{" "}
          </>
        )}
        {made} full-effort {made === 1 ? "swing" : "swings"} in seven days, of {most} at most.
        {view.week_asks > most &&
          ` A week of the programme asks for ${view.week_asks}: some are given up.`}
        {view.held_for_pain &&
          " Held for pain: begin again only when those who may judge it agree."}
      </p>
      <p className={css.begin}>
        {next?.state === "under_way" && next.session && (
          <Button type="primary" onClick={() => navigate(`/sessions/${next.session}/run`)}>
            Go on
          </Button>
        )}
        {next && protocol && next.state !== "under_way" && (
          <Button
            type={today ? "primary" : "default"}
            loading={begin.isPending}
            onClick={() => begin.mutate({ protocol, place: next.place })}
          >
            {today ? "Begin" : "Begin it now"}
          </Button>
        )}
        {next?.day_for.kind === "check_in" && (
          <Link to={checkIn(player, view.benchmark)}>Prepare the check-in</Link>
        )}
        <Button onClick={() => begin.mutate({ protocol: view.intent_test })}>Intent test</Button>
        <AnyProtocol begin={(of) => begin.mutate(of)} />
      </p>
      <FormTrouble error={begin.error} />
    </div>
  );
}

/** A session of any protocol, outside the programme. */
function AnyProtocol({ begin }: { begin: (of: { protocol: string }) => void }) {
  const protocols = useProtocols();
  return (
    <Select<string>
      aria-label="Begin another protocol"
      placeholder="Begin another protocol"
      value={null}
      popupMatchSelectWidth={false}
      onChange={(protocol) => begin({ protocol })}
      options={(protocols.data ?? []).map((one) => ({ value: one.id, label: one.protocol.name }))}
    />
  );
}

function Levels(props: { player: string; view: ProgrammeView; words: Words }) {
  const { player, view, words } = props;
  const begin = useBeginRun(player);
  if (view.levels.length === 0) return null;
  return (
    <>
      <h2>Levels</h2>
      <table className="figures">
        <tbody>
          {view.levels.map((level) => (
            <tr key={level.protocol}>
              <th scope="row">{level.protocol_name}</th>
              <td>{level.name}</td>
              <td className={`second ${css.why}`}>{said(level.said, words)}</td>
              <td>
                <button
                  type="button"
                  className="link"
                  aria-label={`Begin ${level.protocol_name}`}
                  onClick={() => begin.mutate({ protocol: level.protocol })}
                >
                  Begin
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <FormTrouble error={begin.error} />
    </>
  );
}

const SHOWN = 8;

function Held({ view }: { view: ProgrammeView }) {
  const [all, setAll] = useState(false);
  if (view.held.length === 0) return null;
  const shown = all ? view.held : view.held.slice(0, SHOWN);
  return (
    <>
      <h2>Held</h2>
      <table className="figures">
        <tbody>
          {shown.map((held) => (
            <tr key={held.session}>
              <th scope="row">
                <Link to={`/sessions/${held.session}/run`}>{day(held.on, "UTC")}</Link>
              </th>
              <td className={css.why}>{held.protocol_name}</td>
              <td>
                {held.made} of {held.asked} swings
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {view.held.length > SHOWN && !all && (
        <button type="button" className="link" onClick={() => setAll(true)}>
          All {view.held.length}
        </button>
      )}
    </>
  );
}

/** The programme in the player's own calendar. */
function Calendar(props: { player: string; view: ProgrammeView; keeps: boolean }) {
  const { player, view, keeps } = props;
  const client = useQueryClient();
  const done = () => client.invalidateQueries({ queryKey: keys.player.programme(player) });
  const path = { player };
  const share = useMutation({
    mutationFn: () => answered(api.POST("/api/v1/players/{player}/calendar", { params: { path } })),
    onSuccess: done,
  });
  const revoke = useMutation({
    mutationFn: () =>
      answered(api.DELETE("/api/v1/players/{player}/calendar", { params: { path } })),
    onSuccess: done,
  });
  return (
    <p className={css.calendar}>
      <a href={`/api/v1/players/${player}/programme.ics`}>Save as a calendar file</a>
      {keeps && (
        <button type="button" className="link" onClick={() => share.mutate()}>
          {view.feed_since ? "Make another private address" : "Make a private calendar address"}
        </button>
      )}
      {keeps && view.feed_since && (
        <>
          <span className="quiet">a calendar reads it since {day(view.feed_since, "UTC")}</span>
          <button type="button" className="link" onClick={() => revoke.mutate()}>
            Revoke the address
          </button>
        </>
      )}
      <FormTrouble error={share.error ?? revoke.error} />
      {share.data && (
        <Modal open onCancel={() => share.reset()} title="A private calendar address" footer={null}>
          <Secret text={`${location.origin}${share.data.path}`}>
            Give it to the player’s calendar program. Whoever has it can read the programme’s days;
            it is not shown again. An address made before opens no more.
          </Secret>
        </Modal>
      )}
    </p>
  );
}
