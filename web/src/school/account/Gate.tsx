// Lets people of the school in, and asks anew over the page when their time is over.

import { type ReactNode, useCallback } from "react";
import { ApiError } from "../../app/api";
import { useMe, useSignedOut } from "../../app/asked";
import { Loading, Trouble } from "../../ui/Notice";
import css from "./Gate.module.css";
import { SignIn } from "./SignIn";

export function Gate({ children }: { children: ReactNode }) {
  const me = useMe();
  const out = useSignedOut();
  if (!me.data) {
    if (me.isPending) return <Loading />;
    const unknown = me.error instanceof ApiError && me.error.status === 401;
    if (!unknown) return <Trouble error={me.error} retry={me.refetch} />;
    return (
      <main>
        <SignIn />
      </main>
    );
  }
  return (
    <>
      {children}
      {out && <Over />}
    </>
  );
}

/** Above everything, dialogs too, which the browser then leaves alone. */
function Over() {
  const show = useCallback((dialog: HTMLDialogElement | null) => {
    if (dialog && !dialog.open) dialog.showModal();
  }, []);
  return (
    <dialog
      ref={show}
      className={css.doorOver}
      aria-label="Sign in again"
      onCancel={(event) => event.preventDefault()}
    >
      <SignIn again />
    </dialog>
  );
}
