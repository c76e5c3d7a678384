// The people of the school: what each may do, and codes for their passwords.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";
import { useMe } from "../app/asked";
import { keys } from "../app/keys";
import { ZONE } from "../app/local";
import { usePeople } from "../shots/queries";
import { day } from "../ui/day";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { SchoolHead } from "../ui/SchoolHead";
import { SecretOnce } from "../ui/SecretOnce";
import { ROLES, type Role } from "./account/queries";
import css from "./PeoplePage.module.css";

type Person = Schemas["PersonView"];

const ABOUT: Record<Role, string> = {
  owner: "answers for the school: people, devices, archive; sees every player",
  coach: "works with their own players and those shared with them",
  assistant: "runs sessions of players shared with them; deletes and takes out nothing",
};

export function PeoplePage() {
  const me = useMe();
  const found = usePeople(me.data?.may_own === true);
  const [adding, setAdding] = useState(false);
  const [code, setCode] = useState<{ of: string; code: Schemas["Code"] }>();
  if (me.data && !me.data.may_own) {
    return (
      <div className="page">
        <SchoolHead />
        <Nothing title="For owners of the school">
          <p>Ask an owner to add people, to change what they may do, or for a new code.</p>
        </Nothing>
      </div>
    );
  }
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  return (
    <div className="page">
      <SchoolHead />
      <div className="page-head">
        <div>
          <h1>People</h1>
          <p className="quiet">
            Each signs in with a name and a password of their own. Players are shared on the
            player’s page.
          </p>
        </div>
        <Button type="primary" onClick={() => setAdding(true)}>
          Add a person
        </Button>
      </div>
      <ul className="rows people">
        {found.data.map((person) => (
          <PersonRow
            key={person.id}
            person={person}
            self={person.id === me.data?.id}
            coded={(code) => setCode({ of: person.name, code })}
          />
        ))}
      </ul>
      <AddPerson
        open={adding}
        close={() => setAdding(false)}
        added={(of, code) => setCode({ of, code })}
      />
      <SecretOnce
        title={`A code for ${code?.of}`}
        text={code?.code.code}
        close={() => setCode(undefined)}
      >
        Give it to them now: it is not shown again. With it they set their password on the sign-in
        page, until {code && day(code.code.until, ZONE)}.
      </SecretOnce>
    </div>
  );
}

function PersonRow(props: {
  person: Person;
  self: boolean;
  coded: (code: Schemas["Code"]) => void;
}) {
  const { person, self, coded } = props;
  const [open, setOpen] = useState(false);
  const renew = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/people/{person}/code", { params: { path: { person: person.id } } }),
      ),
    onSuccess: coded,
  });
  const state = person.left_at
    ? `left on ${day(person.left_at, ZONE)}`
    : !person.sign_in_name
      ? "came with an archive and cannot sign in"
      : !person.has_password
        ? "waits for a first password"
        : person.used_at
          ? `last here ${day(person.used_at, ZONE)}`
          : "not signed in now";
  return (
    <li>
      <div className={css.person}>
        <div>
          <span className="row-name">{person.name}</span>
          <p className="quiet">{person.sign_in_name ?? "no sign-in name"}</p>
        </div>
        <div>
          <b>{ROLES[person.role]}</b>
          <p className="quiet">{ABOUT[person.role]}</p>
        </div>
        <p className="quiet">
          {state}
          {person.second_factor && ", second factor"}
        </p>
        <div className="device-acts">
          <Button onClick={() => setOpen(!open)} aria-expanded={open}>
            Change
          </Button>
          {person.sign_in_name && !person.left_at && !self && (
            <Button loading={renew.isPending} onClick={() => renew.mutate()}>
              New code
            </Button>
          )}
        </div>
      </div>
      <FormTrouble error={renew.error} />
      {open && <ChangePerson person={person} self={self} done={() => setOpen(false)} />}
    </li>
  );
}

function ChangePerson(props: { person: Person; self: boolean; done: () => void }) {
  const { person, done } = props;
  const [name, setName] = useState(person.name);
  const [role, setRole] = useState(person.role);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (away: boolean) =>
      answered(
        api.PUT("/api/v1/people/{person}", {
          params: { path: { person: person.id } },
          body: { name, role, away },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries();
      done();
    },
  });
  const away = person.left_at != null;
  return (
    <form
      className="form device-form"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        save.mutate(away);
      }}
    >
      <label>
        Name
        <Input value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <RoleChoice role={role} change={setRole} />
      <FormTrouble error={save.error} />
      <div className="device-acts">
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Save
        </Button>
        <Button onClick={() => save.mutate(!away)}>
          {away ? "They came back" : "They left the school"}
        </Button>
        <Button onClick={done}>Leave it</Button>
      </div>
      {person.second_factor && !props.self && <LostAuthenticator person={person} />}
    </form>
  );
}

/** The way back in for one whose phone is gone. */
function LostAuthenticator({ person }: { person: Person }) {
  const queries = useQueryClient();
  const end = useMutation({
    mutationFn: () =>
      answered(
        api.DELETE("/api/v1/people/{person}/second-factor", {
          params: { path: { person: person.id } },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.people }),
  });
  return (
    <div className={css.lost}>
      <p>
        Is their authenticator lost? Make sure that it is really they who ask. Their password alone
        signs them in then, until they set up another.
      </p>
      <FormTrouble error={end.error} />
      <Button loading={end.isPending} onClick={() => end.mutate()}>
        Take their second factor away
      </Button>
    </div>
  );
}

function RoleChoice({ role, change }: { role: Role; change: (role: Role) => void }) {
  return (
    <div>
      <label htmlFor="role">Role</label>
      <Select<Role>
        id="role"
        aria-label="Role"
        value={role}
        onChange={change}
        options={Object.entries(ROLES).map(([value, label]) => ({ value: value as Role, label }))}
      />
      <p className="quiet">{ABOUT[role]}</p>
    </div>
  );
}

function AddPerson(props: {
  open: boolean;
  close: () => void;
  added: (name: string, code: Schemas["Code"]) => void;
}) {
  const [id, setId] = useState(() => uuid());
  const [name, setName] = useState("");
  const [signsAs, setSignsAs] = useState("");
  const [role, setRole] = useState<Role>("coach");
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      answered(api.POST("/api/v1/people", { body: { id, name, role, sign_in_name: signsAs } })),
    onSuccess: (code) => {
      queries.invalidateQueries({ queryKey: keys.people });
      props.added(name, code);
      setId(uuid());
      setName("");
      setSignsAs("");
      props.close();
    },
  });
  return (
    <Modal
      open={props.open}
      onCancel={props.close}
      title="Add a person"
      footer={null}
      destroyOnHidden
    >
      <form
        className="form"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <label>
          Name
          <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
        </label>
        <label>
          Sign-in name
          <Input value={signsAs} onChange={(e) => setSignsAs(e.target.value)} autoComplete="off" />
        </label>
        <RoleChoice role={role} change={setRole} />
        <FormTrouble error={add.error} />
        <Button type="primary" htmlType="submit" loading={add.isPending}>
          Add
        </Button>
      </form>
    </Modal>
  );
}
