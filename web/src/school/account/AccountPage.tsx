// What the one who is signed in signs in with.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, QRCode } from "antd";
import { type FormEvent, type ReactNode, useState } from "react";
import { answered, api, type Schemas } from "../../app/api";
import { useMe } from "../../app/asked";
import { keys } from "../../app/keys";
import { FormTrouble } from "../../ui/FormTrouble";
import { Loading, Trouble } from "../../ui/Notice";
import css from "./AccountPage.module.css";
import { ROLES, useGoingOut } from "./queries";
import { Scripts } from "./Scripts";
import { Chosen } from "./SignIn";

export function AccountPage() {
  const me = useMe();
  const out = useGoingOut();
  if (me.isError) return <Trouble error={me.error} retry={me.refetch} />;
  if (!me.data) return <Loading />;
  return (
    <div className="page narrow">
      <div className="page-head">
        <div>
          <h1>{me.data.name}</h1>
          <p className="quiet">
            {ROLES[me.data.role]}, signs in as {me.data.sign_in_name}
          </p>
        </div>
        <Button onClick={() => out.mutate(false)} loading={out.isPending}>
          Sign out
        </Button>
      </div>
      <h2>Password</h2>
      <ChangePassword />
      <h2>Second factor</h2>
      {me.data.second_factor ? <EndSecondFactor /> : <BeginSecondFactor />}
      <h2>Other browsers</h2>
      <p>
        A lost tablet, or a browser left open: sign out everywhere, here too.{" "}
        <button type="button" className="link" onClick={() => out.mutate(true)}>
          Sign out everywhere
        </button>
      </p>
      <FormTrouble error={out.error} />
      <h2>Scripts</h2>
      <Scripts role={me.data.role} />
    </div>
  );
}

function ChangePassword() {
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const change = useMutation({
    mutationFn: () => answered(api.PUT("/api/v1/me/password", { body: { old, new: next } })),
    onSuccess: () => {
      setOld("");
      setNext("");
    },
  });
  return (
    <form
      className="form"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      <Again label="Password until now" value={old} change={setOld} />
      <Chosen label="New password" value={next} change={setNext} />
      <FormTrouble error={change.error} />
      {change.isSuccess && old === "" && next === "" && (
        <p role="status">Changed. Other browsers were signed out.</p>
      )}
      <Button htmlType="submit" loading={change.isPending}>
        Change the password
      </Button>
    </form>
  );
}

function BeginSecondFactor() {
  const [factor, setFactor] = useState<Schemas["NewSecondFactor"]>();
  if (factor) return <ConfirmSecondFactor factor={factor} />;
  return (
    <WithPassword
      act="Set up a second factor"
      ask={(password) => answered(api.POST("/api/v1/me/second-factor", { body: { password } }))}
      done={setFactor}
    >
      An authenticator on your phone shows a new code every half-minute; signing in then asks for it
      beside the password.
    </WithPassword>
  );
}

function ConfirmSecondFactor({ factor }: { factor: Schemas["NewSecondFactor"] }) {
  const [code, setCode] = useState("");
  const queries = useQueryClient();
  const confirm = useMutation({
    mutationFn: () => answered(api.PUT("/api/v1/me/second-factor", { body: { code } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.me }),
  });
  return (
    <form
      className="form"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        confirm.mutate();
      }}
    >
      <p>Show this to your authenticator, or type the secret into it.</p>
      <QRCode
        value={factor.address}
        type="svg"
        bgColor="#ffffff"
        color="#1D2129"
        bordered={false}
      />
      <p>
        <code className={css.secretText}>{factor.secret}</code>
      </p>
      <label>
        Code that it shows now
        <Input
          value={code}
          onChange={(e) => setCode(e.target.value)}
          inputMode="numeric"
          autoComplete="one-time-code"
        />
      </label>
      <FormTrouble error={confirm.error} />
      <Button type="primary" htmlType="submit" loading={confirm.isPending}>
        Ask for it from now on
      </Button>
    </form>
  );
}

function EndSecondFactor() {
  const queries = useQueryClient();
  return (
    <WithPassword
      act="Ask for it no longer"
      ask={(password) => answered(api.DELETE("/api/v1/me/second-factor", { body: { password } }))}
      done={() => queries.invalidateQueries({ queryKey: keys.me })}
    >
      Signing in asks for the code of your authenticator.
    </WithPassword>
  );
}

/** What is done only when the password is said once more. */
function WithPassword<T>(props: {
  act: string;
  ask: (password: string) => Promise<T>;
  done: (answer: T) => void;
  children: ReactNode;
}) {
  const [password, setPassword] = useState("");
  const ask = useMutation({ mutationFn: props.ask, onSuccess: props.done });
  return (
    <form
      className="form"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        ask.mutate(password);
      }}
    >
      <p>{props.children}</p>
      <Again label="Your password" value={password} change={setPassword} />
      <FormTrouble error={ask.error} />
      <Button htmlType="submit" loading={ask.isPending}>
        {props.act}
      </Button>
    </form>
  );
}

function Again(props: { label: string; value: string; change: (to: string) => void }) {
  return (
    <label>
      {props.label}
      <Input
        type="password"
        value={props.value}
        onChange={(e) => props.change(e.target.value)}
        autoComplete="current-password"
      />
    </label>
  );
}
