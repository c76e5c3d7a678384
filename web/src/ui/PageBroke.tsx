// What is shown in the place of a page that broke. The rest of the application goes on.

import { Button } from "antd";
import { useRouteError } from "react-router";

export function PageBroke() {
  const error = useRouteError();
  const told = error instanceof Error ? error.message : String(error);
  return (
    <div className="notice" role="alert">
      <h1>This page could not be shown</h1>
      <p>
        Nothing that was recorded is lost, and the other pages work. Load it again; if it breaks
        again, tell whoever keeps the server these words:
      </p>
      <p>
        <code>{told}</code>
      </p>
      <Button type="primary" size="large" onClick={() => location.reload()}>
        Load this page again
      </Button>
    </div>
  );
}
