// What can be done with a session's shots and blocks at the mat.

import { v7 as uuid } from "uuid";
import type { Schemas } from "../app/api";
import { enqueue } from "./outbox";

export type Act = Schemas["Act"];
export type SessionAct = Schemas["SessionAct"];

/** What can be done in a session at the mat. Each goes through the outbox, so that
 * nothing is lost when the server is away. */
export function atTheMat(session: string) {
  const base = `/api/v1/sessions/${session}`;
  return {
    mark: (shot: { id: string; number: number }, act: Act, what: string, id = uuid()) =>
      enqueue({
        id,
        method: "POST",
        path: `${base}/shots/${shot.id}/marks`,
        body: { id, act },
        what: `shot ${shot.number} ${what}`,
      }),
    act: (act: SessionAct, what: string) => {
      const id = uuid();
      enqueue({ id, method: "POST", path: `${base}/acts`, body: { id, act }, what });
    },
    enter: (
      shot: string,
      values: { quantity: Schemas["Quantity"]; given: Schemas["Given"] | null }[],
      what: string,
    ) => {
      const id = uuid();
      enqueue({
        id,
        method: "PUT",
        path: `${base}/shots/${shot}/entries`,
        body: {
          hit_at: new Date().toISOString(),
          values: values.map((value) => ({ id: uuid(), ...value })),
        },
        what,
      });
    },
    beginBlock: (block: string, label: string) =>
      enqueue({
        id: uuid(),
        method: "POST",
        path: `${base}/blocks/${block}/begin`,
        body: {},
        what: `block “${label}” begun`,
      }),
    takeBackBlock: (block: string, label: string) =>
      enqueue({
        id: uuid(),
        method: "DELETE",
        path: `${base}/blocks/${block}/begin`,
        body: {},
        what: `block “${label}” taken back`,
      }),
    giveTo: (shot: { id: string; number: number }, block: { id: string; label: string }) => {
      const id = uuid();
      enqueue({
        id,
        method: "PUT",
        path: `${base}/shots/${shot.id}/block`,
        body: { id, block: block.id },
        what: `shot ${shot.number} given to “${block.label}”`,
      });
    },
    /** Puts a block once more before those to come. */
    repeat: (
      block: { label: string; plan: Schemas["PlannedBlock"] },
      coming: { id: string; plan: Schemas["PlannedBlock"] }[],
    ) => {
      const id = uuid();
      const blocks = [{ id, plan: block.plan }, ...coming];
      enqueue({
        id,
        method: "PUT",
        path: `${base}/plan`,
        body: { blocks: blocks.map((each) => ({ id: each.id, ...each.plan })) },
        what: `“${block.label}” once more`,
      });
    },
    addBlock: (label: string) => {
      const id = uuid();
      enqueue({
        id,
        method: "POST",
        path: `${base}/blocks`,
        body: { id, label },
        what: `block “${label}” begun`,
      });
    },
  };
}
