// The Prepare station: who, what for, where, with what; and the blocks that the purpose
// proposes, beside what there is to beat.

import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, Modal, Select } from "antd";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { v7 as uuid } from "uuid";
import { ApiError, answered, api, type Quantity } from "../../app/api";
import { keys } from "../../app/keys";
import { ZONE } from "../../app/local";
import { useTemperature } from "../../app/temperature";
import { useWords, type Words } from "../../app/vocabulary";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import { typed } from "../../ui/Measured";
import { Loading, Trouble } from "../../ui/Notice";
import { said } from "../../ui/Said";
import { Cautions } from "../Cautions";
import { NumbersChoice } from "../NumbersChoice";
import { type SessionView, useLive, useSession } from "../queries";
import { HoldNotice, SessionHead } from "../SessionHead";
import { BagForm } from "./BagForm";
import { asRows, PlanCount, type PlannedRow, PlanTable } from "./PlanTable";
import css from "./PreparePage.module.css";
import {
  type Preparation,
  useBegin,
  useForgetTemplate,
  usePreparation,
  useSavePreparation,
  useSaveTemplate,
} from "./queries";
import { asSetting, freshSetting, roofOf, SettingForm, settingOf } from "./SettingForm";
import { TestPlan } from "./TestPlan";
import { ToBeat } from "./ToBeat";

/** A new session of a player. */
export function NewSessionPage() {
  const { player = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const purpose = params.get("purpose") ?? "benchmark";
  const club = params.get("club") ?? "driver";
  const words = useWords();
  const benchmark = params.get("benchmark") ?? undefined;
  const told = usePreparation(player, purpose, club, { benchmark });
  // Where the plan of another purpose does not come, what was typed for the one before stays.
  const [before, setBefore] = useState<Preparation>();
  useEffect(() => {
    if (told.data) setBefore(told.data);
  }, [told.data]);
  const known = told.data ?? before;
  if (!known && told.isError) return <Trouble error={told.error} retry={told.refetch} />;
  if (!known || !words) return <Loading />;
  const choose = (part: Record<string, string>) =>
    setParams({ purpose, club, ...part }, { replace: true });
  return (
    <New
      player={player}
      purpose={purpose}
      club={club}
      choose={choose}
      told={known}
      current={told.isSuccess && !told.isPlaceholderData}
      missing={told.isError ? told.error : null}
      again={told.refetch}
      words={words}
    />
  );
}

interface NewProps {
  player: string;
  purpose: string;
  club: string;
  choose: (part: Record<string, string>) => void;
  told: Preparation;
  /** Whether `told` is of this purpose and club. */
  current: boolean;
  /** Why the plan of this purpose and club did not come. */
  missing: Error | null;
  again: () => void;
  words: Words;
}

function New(props: NewProps) {
  const { player, purpose, club, choose, told, current, missing, again, words } = props;
  const [id] = useState(() => uuid());
  const temperature = useTemperature(words.units);
  const [setting, setSetting] = useState(() => {
    const fresh = freshSetting(words, temperature);
    const before = told.repeats?.setting;
    const place = before ? told.places.find((p) => p.name === before.place) : told.places[0];
    const there = place
      ? {
          ...fresh,
          place: place.name,
          roof: roofOf(before?.indoors ?? place.indoors),
          altitude: words.field("height", place.altitude),
          altitudeUnit: words.suffix("height"),
        }
      : { ...fresh, place: before?.place ?? "Range" };
    return before ? { ...there, ball: before.ball } : there;
  });
  const [rows, setRows] = useState<PlannedRow[]>(() => asRows(told.proposed));
  const [bagClub, setBagClub] = useState<string>();
  const [devices, setDevices] = useState<string[]>(told.repeats?.devices ?? []);
  // As the purpose proposes until the coach chooses.
  const [numbers, setNumbers] = useState<Quantity[]>();
  const [difference, setDifference] = useState("");
  const [adding, setAdding] = useState(false);
  const begin = useBegin();
  const navigate = useNavigate();
  const proposal = `${purpose} ${club}`;
  const [proposedFor, setProposedFor] = useState(proposal);
  // Another purpose or club proposes other blocks; what was edited for this one stays.
  useEffect(() => {
    if (!current || proposedFor === proposal) return;
    setRows(asRows(told.proposed));
    setNumbers(undefined);
    setDifference("");
    setProposedFor(proposal);
  }, [current, proposal, proposedFor, told]);
  const purposeWord = words.vocabulary.purposes.find((p) => p.key === purpose);
  // What the test is judged by is fixed here, before a ball is seen.
  const tested = told.decides_by === "comparison" ? (numbers ?? told.shown)[0] : undefined;
  const submit = (takeOver: string[]) =>
    begin.mutate(
      {
        id,
        player,
        purpose,
        club,
        bag_club: bagClub ?? null,
        setting: asSetting(setting),
        zone: ZONE,
        blocks: rows.map((row) => ({ id: row.id, ...row.plan })),
        devices,
        take_over: takeOver,
        numbers: numbers ?? [],
        test: tested
          ? {
              quantity: tested,
              margin: difference.trim()
                ? {
                    value: typed(difference),
                    unit: words.suffix(words.quantity(tested).dimension),
                  }
                : null,
            }
          : null,
      },
      { onSuccess: () => navigate(`/sessions/${id}/warm-up`) },
    );
  // Pressed before the plan of another purpose is there, it begins once it is: a speed day is not
  // begun with the blocks of another day.
  const isProposed = current && proposedFor === proposal;
  const [toBegin, setToBegin] = useState(false);
  const press = () => (isProposed ? submit([]) : setToBegin(true));
  useEffect(() => {
    if (!toBegin || !(isProposed || missing)) return;
    // A plan that did not come is told of: nothing begins later, when nobody is there.
    setToBegin(false);
    if (isProposed) submit([]);
  });
  // A device that sends to somebody's session is taken out of it on purpose only.
  const inUse = begin.error instanceof ApiError && begin.error.title === "Device in use";
  const bag = told.bag.filter((c) => words.vocabulary.clubs.some((known) => known.key === c.club));
  const chosen = bagClub ?? `kind:${club}`;
  const chooseClub = (value: string) => {
    if (value === "add") return setAdding(true);
    const inBag = bag.find((c) => c.id === value);
    setBagClub(inBag?.id);
    choose({ club: inBag?.club ?? value.replace("kind:", "") });
  };
  return (
    <div className={css.prepare}>
      <form
        className={`prepare-form ${css.prepareForm}`}
        onSubmit={(event) => {
          event.preventDefault();
          press();
        }}
      >
        <p className="crumb">
          <Link to={`/players/${player}`}>{told.player_name}</Link>
        </p>
        <h1>Prepare a session</h1>
        {told.repeats && (
          <p className={css.repeats} role="status">
            Repeats <b>{told.repeats.name}</b> of {day(told.repeats.held_on, "UTC")}:{" "}
            {told.repeats.setting.balls + told.repeats.setting.set_aside} balls,{" "}
            {told.repeats.setting.ball}, {told.repeats.setting.place}
            {told.repeats.setting.devices.length > 0 &&
              `, ${told.repeats.setting.devices.join(" and ")}`}
            .
            {told.repeats.gone.length > 0 &&
              ` ${told.repeats.gone.join(" and ")} is no longer here: another device shifts what is read.`}
          </p>
        )}
        <div>
          <label htmlFor="purpose">Purpose</label>
          <Select
            id="purpose"
            listHeight={480}
            value={purpose}
            onChange={(value) => choose({ purpose: value })}
            options={words.vocabulary.purposes.map((p) => ({ value: p.key, label: p.label }))}
          />
          <p className="quiet">{purposeWord?.about}.</p>
        </div>
        <div>
          <label htmlFor="club">Club</label>
          <Select
            id="club"
            value={chosen}
            onChange={chooseClub}
            options={[
              ...(bag.length > 0
                ? [
                    {
                      label: `${told.player_name.split(" ")[0]}’s bag`,
                      options: bag.map((c) => ({ value: c.id, label: said(c.in_words, words) })),
                    },
                  ]
                : []),
              {
                label: "Any club",
                options: words.vocabulary.clubs.map((c) => ({
                  value: `kind:${c.key}`,
                  label: c.label,
                })),
              },
              { label: "", options: [{ value: "add", label: "Add a club to the bag…" }] },
            ]}
          />
        </div>
        <SettingForm
          typedIn={setting}
          change={(part) => setSetting((was) => ({ ...was, ...part }))}
          places={told.places}
          words={words}
        />
        <fieldset className={css.choices}>
          <legend>Devices for this session</legend>
          {told.devices.filter((d) => !d.practice).length === 0 && (
            <p className="quiet">
              None is known yet. <Link to="/school/devices">Add one under School</Link>, or begin
              and use the practice device.
            </p>
          )}
          {told.devices
            .filter((d) => !d.practice)
            .map((device) => (
              <Checkbox
                key={device.id}
                checked={devices.includes(device.id)}
                onChange={(e) =>
                  setDevices((was) =>
                    e.target.checked
                      ? [...was, device.id]
                      : was.filter((other) => other !== device.id),
                  )
                }
              >
                {device.name} {device.connected && <small>connected</small>}
              </Checkbox>
            ))}
        </fieldset>
        <div>
          <label htmlFor="numbers">Numbers shown while hitting, the greatest first</label>
          <NumbersChoice
            id="numbers"
            numbers={numbers ?? told.shown}
            choose={setNumbers}
            words={words}
          />
        </div>
      </form>
      <div className={css.preparePlan}>
        <ToBeat told={told} player={player} club={club} words={words} />
        <Templates purpose={purpose} told={told} rows={rows} take={setRows} />
        {tested && (
          <TestPlan
            key={`${proposal} ${tested}`}
            player={player}
            club={club}
            quantity={tested}
            difference={difference}
            onDifference={setDifference}
            rows={rows}
            take={setRows}
            words={words}
          />
        )}
        {rows.some((row) => row.plan.full_effort) && <Cautions said={told.effort_cautions} />}
        <PlanTable rows={rows} change={setRows} shown={told.shown} words={words} held={false} />
        {told.held_to_bounds && (
          <p className="quiet">
            Held to the swings that the house allows at this age
            {told.today.all > 0 &&
              `, less the ${told.today.all} already swung today (${told.today.full} at full effort)`}
            {told.today.week > told.today.full &&
              `; ${told.today.week} at full effort in seven days`}
            .
          </p>
        )}
        <div className={css.planGo}>
          <FormTrouble error={begin.error} />
          <FormTrouble error={missing} />
          {missing && (
            <Button size="large" onClick={again}>
              Ask for its plan again
            </Button>
          )}
          <Button type="primary" size="large" loading={begin.isPending || toBegin} onClick={press}>
            Begin the session
          </Button>
          {inUse && (
            <Button size="large" onClick={() => submit(devices)}>
              Take it over and begin
            </Button>
          )}
          <PlanCount rows={rows} />
        </div>
      </div>
      <BagForm
        player={player}
        club={club}
        open={adding}
        close={() => setAdding(false)}
        added={(added) => {
          setBagClub(added.id);
          choose({ club: added.club });
        }}
        words={words}
      />
    </div>
  );
}

interface TemplatesProps {
  purpose: string;
  told: Preparation;
  rows: PlannedRow[];
  take: (rows: PlannedRow[]) => void;
}

/** The coach's own plans for the purpose: taken, kept, forgotten. */
function Templates({ purpose, told, rows, take }: TemplatesProps) {
  const [keeping, setKeeping] = useState(false);
  const [id, setId] = useState(() => uuid());
  const [name, setName] = useState("");
  const save = useSaveTemplate();
  const forget = useForgetTemplate();
  return (
    <div className={css.templates}>
      <h2>Plan</h2>
      <button type="button" className="link" onClick={() => take(asRows(told.proposed))}>
        As proposed
      </button>
      {told.templates.map((template) => (
        <span key={template.id}>
          <button type="button" className="link" onClick={() => take(asRows(template.blocks))}>
            {template.name}
          </button>
          <button
            type="button"
            className="order-act"
            aria-label={`Forget the plan ${template.name}`}
            onClick={() => forget.mutate(template.id)}
          >
            ✕
          </button>
        </span>
      ))}
      <button type="button" className="link" onClick={() => setKeeping(true)}>
        Keep as my own plan
      </button>
      <Modal
        open={keeping}
        onCancel={() => setKeeping(false)}
        title="Keep this plan"
        footer={null}
        destroyOnHidden
      >
        <form
          className="form"
          onSubmit={(event) => {
            event.preventDefault();
            save.mutate(
              { id, name, purpose, blocks: rows.map((row) => row.plan) },
              {
                onSuccess: () => {
                  setKeeping(false);
                  setId(uuid());
                  setName("");
                },
              },
            );
          }}
        >
          <label>
            What you call it
            <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
          </label>
          <FormTrouble error={save.error} />
          <Button type="primary" htmlType="submit" loading={save.isPending}>
            Keep
          </Button>
        </form>
      </Modal>
    </div>
  );
}

/** A session under way: its setting and the blocks to come can be changed. */
export function PreparePage() {
  const { session = "" } = useParams();
  const words = useWords();
  const found = useSession(session);
  const view = found.data;
  const told = usePreparation(view?.player ?? "", view?.purpose_key ?? "", view?.club_key ?? "", {
    session,
  });
  const live = useLive(session, view?.in_progress === false);
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!view || !told.data || !words) return <Loading />;
  return (
    <div className="session">
      <SessionHead session={view} words={words} live={live} />
      <HoldNotice session={view} />
      <Under key={session} view={view} told={told.data} words={words} />
    </div>
  );
}

function Under({ view, told, words }: { view: SessionView; told: Preparation; words: Words }) {
  const temperature = useTemperature(words.units);
  const [setting, setSetting] = useState(() => settingOf(view, words, temperature));
  const begun = view.blocks.filter((block) => block.begun);
  const [rows, setRows] = useState<PlannedRow[]>(() =>
    view.blocks.filter((block) => !block.begun).map(({ id, plan }) => ({ id, plan })),
  );
  const save = useSavePreparation(view.id);
  const devices = useQuery({
    queryKey: keys.devices,
    queryFn: () => answered(api.GET("/api/v1/devices")),
  });
  const here = devices.data?.filter((device) => device.session === view.id) ?? [];
  return (
    <div className={`${css.prepare} under`}>
      <form
        className={`prepare-form ${css.prepareForm}`}
        onSubmit={(event) => event.preventDefault()}
      >
        <SettingForm
          typedIn={setting}
          change={(part) => setSetting((was) => ({ ...was, ...part }))}
          places={told.places}
          words={words}
        />
        <p className="quiet">
          {here.length === 0
            ? "No device was chosen for this session."
            : `Devices: ${here.map((device) => device.name).join(", ")}.`}{" "}
          <Link to="/school/devices">Devices</Link>
        </p>
      </form>
      <div className={css.preparePlan}>
        <ToBeat told={told} player={view.player} club={view.club_key} words={words} />
        <h2>Blocks begun</h2>
        <p>{begun.map((block) => block.label).join(" · ")}</p>
        <h2>Blocks to come</h2>
        <PlanTable
          rows={rows}
          change={setRows}
          shown={told.shown}
          words={words}
          held={view.progress.held != null}
        />
        <div className={css.planGo}>
          <FormTrouble error={save.error} />
          <Button
            type="primary"
            loading={save.isPending}
            onClick={() =>
              save.mutate({
                setting: asSetting(setting),
                blocks: rows.map((row) => ({ id: row.id, ...row.plan })),
              })
            }
          >
            Save
          </Button>
          <PlanCount rows={rows} />
          {save.isSuccess && <span role="status">Saved.</span>}
        </div>
      </div>
    </div>
  );
}
