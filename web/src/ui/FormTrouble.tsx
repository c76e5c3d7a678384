// The server's refusal of a form, beside the fields it names. Nothing typed is lost.

import { ApiError } from "../app/api";

export function FormTrouble({ error }: { error: Error | null }) {
  if (!error) return null;
  const fields = error instanceof ApiError ? error.fields : [];
  return (
    <div className="form-trouble" role="alert">
      {fields.length === 0 ? (
        <p>{error.message}</p>
      ) : (
        <ul>
          {fields.map((f) => (
            <li key={f.field}>
              <strong>{f.field.replaceAll("_", " ")}</strong> {f.value && `“${f.value}” `}
              {f.problem}: {f.remedy}.
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
