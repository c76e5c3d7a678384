// The API as the server describes it; types come from the generated description.

import createClient from "openapi-fetch";
import type { components, paths } from "./api.gen";
import { position } from "./position";
import { signedOut } from "./signed-out";
import { unchanged } from "./unchanged";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];
export type Dimension = Schemas["Dimension"];
export type Quantity = Schemas["Quantity"];
export type Units = Schemas["Units"];

export const api = createClient<paths>({ baseUrl: location.origin });
api.use(unchanged);
api.use(position);

/** A refusal by the server, or its silence, worded for the coach. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly fields: Problem["errors"] = [],
    readonly status?: number,
    readonly title?: string,
  ) {
    super(message);
  }
}

/** The data of an answer, or an `ApiError` with the server's own words. */
export async function answered<T>(
  asked: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let answer: Awaited<typeof asked>;
  try {
    answer = await asked;
  } catch {
    throw new ApiError("The server cannot be reached. What you typed is still here; try again.");
  }
  if (answer.response.ok) {
    return answer.data as T;
  }
  const problem = answer.error as Partial<Problem> | undefined;
  if (problem?.title === "Not signed in") signedOut.setState({ out: true });
  throw new ApiError(
    problem?.detail ?? `The server answered ${answer.response.status}.`,
    problem?.errors ?? [],
    answer.response.status,
    problem?.title,
  );
}
