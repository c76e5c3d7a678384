// What stands where content will be: loading, nothing yet, or trouble.

import type { ReactNode } from "react";
import { Link } from "react-router";
import css from "./Notice.module.css";

export function Loading() {
  return <div className={css.loading} role="status" aria-label="Loading" />;
}

export function Trouble({ error, retry }: { error: Error; retry?: () => void }) {
  return (
    <div className="notice" role="alert">
      <h1>That did not work</h1>
      <p>{error.message}</p>
      {retry && (
        <button type="button" className="act" onClick={retry}>
          Try again
        </button>
      )}
    </div>
  );
}

export function Nothing({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="notice">
      <h2>{title}</h2>
      {children}
    </div>
  );
}

export function NotHere() {
  return (
    <div className="notice">
      <h1>There is nothing at this address</h1>
      <p>
        <Link to="/players">Go to the players</Link>
      </p>
    </div>
  );
}
