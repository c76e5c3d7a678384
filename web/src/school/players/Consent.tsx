// A guardian's consent, without which no session of a child is kept.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { DayField } from "../../ui/DayField";
import { day } from "../../ui/day";
import { FormTrouble } from "../../ui/FormTrouble";
import css from "./Consent.module.css";

export function Consent(props: { player: string; consent: Schemas["ConsentView"] }) {
  const { player, consent } = props;
  const [guardian, setGuardian] = useState("");
  const [on, setOn] = useState("");
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (given: Schemas["GivenConsent"]) =>
      answered(
        api.PUT("/api/v1/players/{player}/consent", {
          params: { path: { player } },
          body: given,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.player.all(player) }),
  });
  if (!consent.needed) return null;
  if (consent.given?.given_on) {
    return (
      <p className="quiet">
        {consent.given.guardian} consented on {day(consent.given.given_on, "UTC")}.{" "}
        <button
          type="button"
          className="link"
          onClick={() => save.mutate({ guardian: "", given_on: null })}
        >
          It was withdrawn
        </button>
      </p>
    );
  }
  return (
    <form
      className={`form ${css.consent}`}
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        save.mutate({ guardian, given_on: on || null });
      }}
    >
      <p>
        <b>A guardian’s consent is missing.</b> This player may be under 18: no session is kept
        before a parent or guardian agreed. Ask for what you need and no more.
      </p>
      <div className={css.consentFields}>
        <label>
          Guardian
          <Input
            value={guardian}
            onChange={(e) => setGuardian(e.target.value)}
            autoComplete="off"
          />
        </label>
        <label>
          Consented on
          <DayField value={on} onChange={(day) => setOn(day)} />
        </label>
        <Button type="primary" htmlType="submit" loading={save.isPending} disabled={on === ""}>
          Note it
        </Button>
      </div>
      <FormTrouble error={save.error} />
    </form>
  );
}
