import { afterEach, expect, test, vi } from "vitest";
import { follow, type Job } from "./client";

const origin = "http://bearing.test";

/** The client takes what the browser has when it is first imported; so it is imported anew before what stands in for the browser. */
async function answering(status: number, body: unknown, type = "application/json") {
  const calls: Request[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    calls.push(request);
    return new Response(JSON.stringify(body), { status, headers: { "Content-Type": type } });
  });
  const Plain = Request;
  vi.stubGlobal(
    "Request",
    class extends Plain {
      constructor(input: RequestInfo | URL, init?: RequestInit) {
        super(typeof input === "string" ? new URL(input, origin) : input, init);
      }
    },
  );
  vi.resetModules();
  return { calls, ...(await import("./client")) };
}

afterEach(() => vi.unstubAllGlobals());

test("a question goes out with the one before, and the answer comes back as it is", async () => {
  const { calls, api } = await answering(200, { outcome: "answered", answers: [] });
  const set = await api.ask({ id: "tarrow", edition: 7 }, "and in July?", { trail: "a1b2" });
  expect(set.outcome).toBe("answered");
  expect(calls[0]?.url).toBe(`${origin}/api/books/tarrow/ask`);
  expect(await calls[0]?.json()).toEqual({ text: "and in July?", trail: "a1b2", edition: 7 });
});

test("names in an address are escaped", async () => {
  const { calls, api } = await answering(200, { items: [], from: 0 });
  await api.complete({ id: "a b/c", edition: 7 }, "50 % & more");
  expect(calls[0]?.url).toBe(`${origin}/api/books/a%20b%2Fc/complete?text=50%20%25%20%26%20more&edition=7`);
});

test("a problem document becomes an error that says what to do", async () => {
  const { api, Problem } = await answering(
    404,
    { detail: "There is no book “x”.", remedy: "List the books." },
    "application/problem+json",
  );
  const error = await api.book("x").catch((e: unknown) => e);
  expect(error).toBeInstanceOf(Problem);
  expect((error as Error).message).toBe("There is no book “x”.");
  expect((error as { remedy?: string }).remedy).toBe("List the books.");
});

test("a service that does not answer is said to be away", async () => {
  await answering(200, {});
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("refused")));
  vi.resetModules();
  const { api } = await import("./client");
  await expect(api.books()).rejects.toThrow("does not answer");
});

test("a load carries its key, so that it is started once", async () => {
  const { calls, api } = await answering(202, { id: "j1", state: "queued" });
  await api.load("tarrow", { upload: "u1" } as never, "key-1");
  expect(calls[0]?.headers.get("Idempotency-Key")).toBe("key-1");
});

test("a job is followed to its end and then let go", () => {
  const sources: { url: string; closed: boolean; onmessage?: (e: { data: string }) => void }[] = [];
  vi.stubGlobal(
    "EventSource",
    class {
      closed = false;
      onmessage?: (e: { data: string }) => void;
      constructor(readonly url: string) {
        sources.push(this);
      }
      close() {
        this.closed = true;
      }
    },
  );
  const states: string[] = [];
  follow("tarrow", "j1", (job: Job) => states.push(job.state));
  const source = sources[0];
  for (const state of ["queued", "running", "committing", "done"])
    source?.onmessage?.({ data: JSON.stringify({ state }) });
  expect(states).toEqual(["queued", "running", "committing", "done"]);
  expect(source?.closed).toBe(true);
  expect(source?.url).toBe("/api/books/tarrow/jobs/j1/events");
});
