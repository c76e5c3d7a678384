// The server's refusal of a form, beside the fields it names. Nothing typed is lost.

import { ApiError } from "../app/api";

/** A field as it is said: that of a list by its row, as people count. */
function named(field: string): string {
  const row = (_: string, place: string) => `row ${Number(place) + 1} `;
  return field.replace(/^\w+\[(\d+)\]\.?/, row).replaceAll("_", " ");
}

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
              <strong>{named(f.field)}</strong> {f.value && `“${f.value}” `}
              {f.problem}: {f.remedy}.
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
