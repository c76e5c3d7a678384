// The way in: signing in, setting a password by a code, and founding the school.

import { useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { type FormEvent, type ReactNode, useState } from "react";
import { ApiError, answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { FormTrouble } from "../../ui/FormTrouble";
import { Loading, Trouble } from "../../ui/Notice";
import { useComingIn } from "./queries";
import css from "./SignIn.module.css";

/** Signing in, whatever it takes; `again` when someone was signed in on this page. */
export function SignIn({ again = false }: { again?: boolean }) {
  const state = useQuery({
    queryKey: keys.setUp,
    queryFn: () => answered(api.GET("/api/v1/set-up")),
  });
  const [withCode, setWithCode] = useState(false);
  if (state.isError) return <Trouble error={state.error} retry={state.refetch} />;
  if (!state.data) return <Loading />;
  if (state.data.needed) return <SetUp />;
  const other = () => setWithCode(!withCode);
  if (withCode) return <NewPassword other={other} />;
  return <Enter demo={state.data.demo ?? undefined} again={again} other={other} />;
}

/** The frame of all three: the mark, what it is about, and one form. */
function Door(props: { title: string; about: ReactNode; children: ReactNode; send: () => void }) {
  return (
    <div className={css.door}>
      <svg viewBox="0 0 28 22" aria-hidden="true" className={css.doorMark}>
        <path d="M3 2v18M9 1v19M15 2v18M21 1v19M0 17 27 7" />
      </svg>
      <h1>{props.title}</h1>
      <p className="quiet">{props.about}</p>
      <form
        className="form"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          props.send();
        }}
      >
        {props.children}
      </form>
    </div>
  );
}

function Enter(props: {
  demo?: { sign_in_name: string; password: string };
  again: boolean;
  other: () => void;
}) {
  const { demo, again } = props;
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const enter = useComingIn((given: { sign_in_name: string; password: string; code: string }) =>
    answered(api.POST("/api/v1/sign-in", { body: given })),
  );
  const asksCode = enter.error instanceof ApiError && enter.error.title === "Second factor";
  const [second, setSecond] = useState(false);
  if (asksCode && !second) setSecond(true);
  return (
    <Door
      title={again ? "Sign in again" : "Sign in"}
      about={
        again
          ? "You were signed out. What is on the page stays as it is, and what was typed at the mat is still kept in this browser."
          : "Amber Tally keeps players’ records; only people of the school see them."
      }
      send={() => enter.mutate({ sign_in_name: name, password, code })}
    >
      {demo && (
        <p className={css.doorDemo}>
          This is the demo. Sign in as <b>{demo.sign_in_name}</b> with <b>{demo.password}</b>.{" "}
          <button
            type="button"
            className="link"
            onClick={() => {
              setName(demo.sign_in_name);
              setPassword(demo.password);
            }}
          >
            Fill it in
          </button>
        </p>
      )}
      <label>
        Sign-in name
        <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="username" />
      </label>
      <label>
        Password
        <Input
          type="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="current-password"
        />
      </label>
      {second && (
        <label>
          Code of your authenticator
          <Input
            value={code}
            onChange={(e) => setCode(e.target.value)}
            inputMode="numeric"
            autoComplete="one-time-code"
            autoFocus
          />
        </label>
      )}
      {!asksCode && <FormTrouble error={enter.error} />}
      <Button type="primary" htmlType="submit" loading={enter.isPending}>
        Sign in
      </Button>
      <button type="button" className="link" onClick={props.other}>
        I have a code for a new password
      </button>
    </Door>
  );
}

function NewPassword({ other }: { other: () => void }) {
  const [name, setName] = useState("");
  const [code, setCode] = useState("");
  const [password, setPassword] = useState("");
  const enter = useComingIn((given: { sign_in_name: string; code: string; password: string }) =>
    answered(api.POST("/api/v1/new-password", { body: given })),
  );
  return (
    <Door
      title="A new password"
      about="An owner of your school gives you a code under School, People. It holds three days."
      send={() => enter.mutate({ sign_in_name: name, code, password })}
    >
      <label>
        Sign-in name
        <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="username" />
      </label>
      <label>
        Code
        <Input value={code} onChange={(e) => setCode(e.target.value)} autoComplete="off" />
      </label>
      <Chosen label="New password" value={password} change={setPassword} />
      <FormTrouble error={enter.error} />
      <Button type="primary" htmlType="submit" loading={enter.isPending}>
        Set the password
      </Button>
      <button type="button" className="link" onClick={other}>
        Sign in with a password
      </button>
    </Door>
  );
}

function SetUp() {
  const [school, setSchool] = useState("");
  const [person, setPerson] = useState("");
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const found = useComingIn(
    (given: { school: string; name: string; sign_in_name: string; password: string }) =>
      answered(api.POST("/api/v1/set-up", { body: given })),
  );
  return (
    <Door
      title="Set up your school"
      about="You become its owner: you add its people and devices, and answer for its records."
      send={() => found.mutate({ school, name: person, sign_in_name: name, password })}
    >
      <label>
        School
        <Input value={school} onChange={(e) => setSchool(e.target.value)} autoComplete="off" />
      </label>
      <label>
        Your name
        <Input value={person} onChange={(e) => setPerson(e.target.value)} autoComplete="name" />
      </label>
      <label>
        Sign-in name
        <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="username" />
      </label>
      <Chosen label="Password" value={password} change={setPassword} />
      <FormTrouble error={found.error} />
      <Button type="primary" htmlType="submit" loading={found.isPending}>
        Set it up
      </Button>
    </Door>
  );
}

/** A password that is chosen now. */
export function Chosen(props: { label: string; value: string; change: (to: string) => void }) {
  return (
    <label>
      {props.label}
      <Input.Password
        value={props.value}
        onChange={(e) => props.change(e.target.value)}
        autoComplete="new-password"
      />
      <small>12 characters or more; a few plain words do well.</small>
    </label>
  );
}
