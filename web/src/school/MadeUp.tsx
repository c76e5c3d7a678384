// Players that we made up: put into a school without any to try with, and taken out again.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useState } from "react";
import { answered, api } from "../app/api";
import { useMe } from "../app/asked";
import { FormTrouble } from "../ui/FormTrouble";
import css from "./MadeUp.module.css";

/** Offers made-up players to the owner of a school that has none. */
export function OfferMadeUp() {
  const me = useMe();
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () => answered(api.POST("/api/v1/school/made-up-players")),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (me.data?.role !== "owner") return null;
  return (
    <div className={css.offer}>
      <p>
        Or look round first: thirteen made-up players with sessions, decisions and a training
        programme. They can be taken out again at once.
      </p>
      <FormTrouble error={add.error} />
      <Button loading={add.isPending} onClick={() => add.mutate()}>
        Put made-up players in
      </Button>
      {add.isPending && <p role="status">Their sessions are being hit. This takes some seconds.</p>}
    </div>
  );
}

/** Says that made-up players are here, and takes them out for the owner. */
export function MadeUpAreHere() {
  const me = useMe();
  const queries = useQueryClient();
  const [asking, setAsking] = useState(false);
  const drop = useMutation({
    mutationFn: () => answered(api.DELETE("/api/v1/school/made-up-players")),
    onSuccess: () => {
      setAsking(false);
      return queries.invalidateQueries();
    },
  });
  if (me.data?.role !== "owner") return null;
  return (
    <div className={css.here}>
      <p>Made-up players are in this school, to try with.</p>
      <Button onClick={() => setAsking(true)}>Take them out</Button>
      <Modal
        open={asking}
        title="Take the made-up players out?"
        okText="Take them out"
        cancelText="Keep them"
        confirmLoading={drop.isPending}
        onOk={() => drop.mutate()}
        onCancel={() => setAsking(false)}
      >
        <p>
          They go with their sessions, with all that was hit, decided and planned with them since,
          and with their devices. Your own players stay as they are.
        </p>
        <FormTrouble error={drop.error} />
      </Modal>
    </div>
  );
}
