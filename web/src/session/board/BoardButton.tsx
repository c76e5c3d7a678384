import { Button } from "antd";
import { lazy, Suspense, useState } from "react";

// The square that is scanned is drawn by code that few pages need.
const ShowBoard = lazy(async () => ({ default: (await import("./ShowBoard")).ShowBoard }));

/** Opens a board on another screen. */
export function BoardButton({ session }: { session: string }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>Board…</Button>
      {open && (
        <Suspense>
          <ShowBoard session={session} close={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
