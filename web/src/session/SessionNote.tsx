// What a coach notes of a session, and what it can be found by.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { answered, api } from "../app/api";
import { FormTrouble } from "../ui/FormTrouble";
import type { SessionView } from "./queries";
import css from "./SessionHead.module.css";

export function SessionNote({ session }: { session: SessionView }) {
  const [open, setOpen] = useState(false);
  const noted = session.note !== "" || session.tags.length > 0;
  return (
    <>
      <button type="button" className="text-act" onClick={() => setOpen(true)}>
        {noted ? "Change the note" : "Note"}
      </button>
      <Modal
        open={open}
        onCancel={() => setOpen(false)}
        title="A note for later"
        footer={null}
        destroyOnHidden
      >
        <NoteForm session={session} close={() => setOpen(false)} />
      </Modal>
    </>
  );
}

/** The note as it is read. */
export function NoteRead({ session }: { session: SessionView }) {
  if (session.note === "" && session.tags.length === 0) return null;
  return (
    <p className={css.note}>
      {session.note}
      {session.tags.map((tag) => (
        <span key={tag} className={css.tag}>
          {tag}
        </span>
      ))}
    </p>
  );
}

function NoteForm({ session, close }: { session: SessionView; close: () => void }) {
  const [note, setNote] = useState(session.note);
  const [tags, setTags] = useState(session.tags);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/v1/sessions/{session}/notes", {
          params: { path: { session: session.id } },
          body: { note, tags },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries();
      close();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <form onSubmit={submit} className="form">
      <label>
        Note
        <Input.TextArea value={note} onChange={(e) => setNote(e.target.value)} rows={4} />
      </label>
      <label htmlFor="tags">Tags, to find it again by</label>
      <Select
        id="tags"
        mode="tags"
        value={tags}
        onChange={setTags}
        tokenSeparators={[","]}
        open={false}
        suffixIcon={null}
        placeholder="Such as wet grass, new grip"
      />
      <FormTrouble error={save.error} />
      <Button type="primary" htmlType="submit" loading={save.isPending}>
        Keep the note
      </Button>
    </form>
  );
}
