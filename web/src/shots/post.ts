// Sends a file, which no client of the API does piece by piece.

import { ApiError, type Problem } from "../app/api";
import { noted } from "../app/position";

/** Sends a file or a part of it. */
export async function post<T>(path: string, body: Blob): Promise<T> {
  let answer: Response;
  try {
    answer = noted(
      await fetch(path, {
        method: "POST",
        body,
        headers: { "content-type": "application/octet-stream" },
      }),
    );
  } catch {
    throw new ApiError("The server cannot be reached. Nothing was added; try again.");
  }
  if (answer.ok) return (await answer.json()) as T;
  const problem = (await answer.json().catch(() => ({}))) as Partial<Problem>;
  throw new ApiError(
    problem.detail ?? `The server answered ${answer.status}.`,
    problem.errors ?? [],
    answer.status,
  );
}
