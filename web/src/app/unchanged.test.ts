import createClient from "openapi-fetch";
import { expect, test } from "vitest";
import { unchanged } from "./unchanged";

interface Paths {
  "/today": {
    get: { responses: { 200: { content: { "application/json": { at: number } } } } };
  };
}

test("what is as it was is asked for by its mark and taken from memory", async () => {
  const asked: (string | null)[] = [];
  let now = { at: 1, tag: '"one"' };
  const client = createClient<Paths>({
    baseUrl: "https://school.test",
    fetch: async (request) => {
      const has = request.headers.get("if-none-match");
      asked.push(has);
      if (has === now.tag) return new Response(null, { status: 304, headers: { etag: now.tag } });
      return Response.json({ at: now.at }, { headers: { etag: now.tag } });
    },
  });
  client.use(unchanged);
  const read = async () => (await client.GET("/today")).data;
  expect(await read()).toEqual({ at: 1 });
  expect(await read()).toEqual({ at: 1 });
  now = { at: 2, tag: '"two"' };
  expect(await read()).toEqual({ at: 2 });
  expect(await read()).toEqual({ at: 2 });
  expect(asked).toEqual([null, '"one"', '"one"', '"two"']);
});
