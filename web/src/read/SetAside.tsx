// Asks why a shot is set aside: one key or one tap.

import { Button, Input, Modal } from "antd";
import { type KeyboardEvent, useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import type { Schemas } from "../app/api";
import { FormTrouble } from "../ui/FormTrouble";
import { REASONS } from "./words";

interface Props {
  shot: Schemas["ShotView"] | undefined;
  pending: boolean;
  error: Error | null;
  cancel: () => void;
  choose: (shot: string, id: string, reason: Schemas["Reason"], note: string) => void;
}

export function SetAside({ shot, pending, error, cancel, choose }: Props) {
  const [id, setId] = useState("");
  const [inWords, setInWords] = useState(false);
  const [note, setNote] = useState("");
  const asked = shot?.id;
  useEffect(() => {
    if (!asked) return;
    setId(uuid());
    setInWords(false);
    setNote("");
  }, [asked]);
  const pick = (reason: Schemas["Reason"]) => {
    if (!shot || pending) return;
    if (reason === "other" && !inWords) setInWords(true);
    else choose(shot.id, id, reason, note);
  };
  const pressed = (event: KeyboardEvent) => {
    if (inWords || event.ctrlKey || event.metaKey || event.altKey) return;
    const reason = REASONS.find((r) => r.letter === event.key.toUpperCase());
    if (!reason) return;
    event.preventDefault();
    pick(reason.key);
  };
  return (
    <Modal
      open={shot !== undefined}
      onCancel={cancel}
      title={`Set shot ${shot?.number ?? ""} aside: why?`}
      footer={null}
      width={420}
      destroyOnHidden
    >
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the keys are shortcuts of the buttons within */}
      <div className="reasons" onKeyDown={pressed}>
        {REASONS.map((reason, i) => (
          <button
            type="button"
            key={reason.key}
            className="reason"
            // biome-ignore lint/a11y/noAutofocus: the question wants its answer at once
            autoFocus={i === 0}
            onClick={() => pick(reason.key)}
          >
            <kbd>{reason.letter}</kbd> {reason.label}
          </button>
        ))}
        {inWords && (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              pick("other");
            }}
          >
            <Input
              aria-label="Reason in words"
              value={note}
              onChange={(e) => setNote(e.target.value)}
              autoFocus
            />
            <Button type="primary" htmlType="submit">
              Set aside
            </Button>
          </form>
        )}
        <FormTrouble error={error} />
      </div>
    </Modal>
  );
}
