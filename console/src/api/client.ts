import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type AnswerSet = Schemas["AnswerSet"];
export type Answer = Schemas["AnswerDto"];
export type Book = Schemas["BookDto"];
export type BookSummary = Schemas["BookSummary"];
export type Chart = Schemas["ChartDto"];
export type ChartPoint = Schemas["ChartPointDto"];
export type Column = Schemas["ColumnDto"];
export type Display = Schemas["DisplayDto"];
export type Grid = Schemas["GridDto"];
export type Job = Schemas["JobDto"];
export type LinePage = Schemas["LinePageDto"];
export type Line = Schemas["LineDto"];
export type Order = NonNullable<NonNullable<paths["/api/books/{book}/lines"]["get"]["parameters"]["query"]>["order"]>;
export type Load = Schemas["LoadDto"];
export type LoadPreview = Schemas["LoadPreview"];
export type LoadRequest = Schemas["LoadRequest"];
export type MappingFile = Schemas["MappingFile"];
export type Changes = Schemas["ChangesDto"];
export type Fetch = Schemas["FetchRequest"];
export type RecordPage = Schemas["RecordPageDto"];
export type RecordTable = Schemas["RecordTableDto"];
export type Refusal = Schemas["RefusalDto"];
export type Table = Schemas["TableDto"];
export type Warning = Schemas["WarningDto"];
export type Question = Schemas["QuestionDto"];
export type Scope = Schemas["ScopeDto"];
export type Layout = Schemas["LayoutDto"];
export type Kind = Schemas["KindDto"];
export type OfRows = Schemas["OfRowsDto"];
export type Filter = Schemas["FilterDto"];
export type Breakdown = Schemas["BreakdownDto"];
export type Receipt = Schemas["ReceiptDto"];
export type RunResult = Schemas["RunDto"];
export type Choice = Schemas["ChoiceDto"];
export type Row = Schemas["RowDto"];
export type TrailStep = Schemas["TrailStep"];
export type Sentence = Schemas["SentenceDto"];

/** The state of a book that is asked: what the cache names is what the request names. */
export type Edition = Pick<Book, "id" | "edition">;

/** What the service says when it cannot: what was wrong and what to do. */
export class Problem extends Error {
  constructor(
    message: string,
    readonly remedy?: string,
  ) {
    super(message);
  }
}

const client = createClient<paths>({ baseUrl: "" });

// Dots alone would be taken for the step above in an address, escaped or not.
client.use({
  onRequest({ params }) {
    for (const name of Object.values(params.path ?? {}))
      if (/^\.*$/.test(String(name)))
        throw new Problem(`“${name}” names nothing.`, "Use lower-case letters, digits and dashes.");
  },
});

async function read<T>(call: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  let result: { data?: T; error?: unknown };
  try {
    result = await call;
  } catch (e) {
    if (e instanceof Problem) throw e;
    throw new Problem("The service does not answer.", "Check that it is running, then try again.");
  }
  if (result.data !== undefined) return result.data;
  const problem = result.error as { detail?: string; remedy?: string } | undefined;
  throw new Problem(problem?.detail ?? "The service refused without saying why.", problem?.remedy);
}

interface Page<T> {
  items: T[];
  next: string | null;
}

/** The whole list, page by page. */
async function all<T>(
  page: (query: { limit: number; cursor?: string }) => Promise<{ data?: Page<T>; error?: unknown }>,
): Promise<T[]> {
  const items: T[] = [];
  let cursor: string | undefined;
  do {
    const got = await read(page({ limit: 1000, cursor }));
    items.push(...got.items);
    cursor = got.next ?? undefined;
  } while (cursor);
  return items;
}

/** What a question follows up on: the talk that the service keeps, and what was asked back and is not answered yet. */
export type Before = { trail?: string | null; previous?: Question | null };

export const api = {
  books: () => all((query) => client.GET("/api/books", { params: { query } })),
  book: (book: string) => read(client.GET("/api/books/{book}", { params: { path: { book } } })),
  ask: ({ id, edition }: Edition, text: string, before: Before, choices?: Choice[]) =>
    read(
      client.POST("/api/books/{book}/ask", {
        params: { path: { book: id } },
        body: { text, ...before, choices, edition },
      }),
    ),
  answerCsv: async ({ id, edition }: Edition, question: Question) => {
    const response = await fetch(`/api/books/${encodeURIComponent(id)}/answers`, {
      method: "POST",
      headers: { "content-type": "application/json", accept: "text/csv" },
      body: JSON.stringify({ question, edition }),
    });
    if (!response.ok) throw new Problem("The table could not be fetched.", "Try again.");
    return response.text();
  },
  words: ({ id, edition }: Edition) =>
    all((query) =>
      client.GET("/api/books/{book}/words", { params: { path: { book: id }, query: { ...query, edition } } }),
    ),
  unknownWords: (book: string) =>
    all((query) => client.GET("/api/books/{book}/words/unknown", { params: { path: { book }, query } })),
  teach: (book: string, word: string, means: string) =>
    read(client.POST("/api/books/{book}/words", { params: { path: { book } }, body: { word, means, by: "console" } })),
  forget: (book: string, word: number) =>
    read(
      client
        .DELETE("/api/books/{book}/words/{word}", { params: { path: { book, word } }, parseAs: "stream" })
        .then((r) => (r.error === undefined ? { data: true } : { error: r.error })),
    ),
  questions: (book: string) =>
    all((query) => client.GET("/api/books/{book}/questions", { params: { path: { book }, query } })),
  keepQuestion: (book: string, name: string, text: string) =>
    read(client.PUT("/api/books/{book}/questions/{name}", { params: { path: { book, name } }, body: { name, text } })),
  removeQuestion: (book: string, name: string) =>
    read(
      client
        .DELETE("/api/books/{book}/questions/{name}", { params: { path: { book, name } }, parseAs: "stream" })
        .then((r) => (r.error === undefined ? { data: true } : { error: r.error })),
    ),
  runQuestions: (book: string, names: string[], given: Record<string, string>) =>
    read(client.POST("/api/books/{book}/questions/run", { params: { path: { book } }, body: { names, with: given } })),
  answer: ({ id, edition }: Edition, question: Question) =>
    read(client.POST("/api/books/{book}/answers", { params: { path: { book: id } }, body: { question, edition } })),
  drill: ({ id, edition }: Edition, question: Question, slice: string, by: string | null) =>
    read(
      client.POST("/api/books/{book}/drill", {
        params: { path: { book: id } },
        body: { question, slice, by, edition },
      }),
    ),
  trail: (book: string, trail: string) =>
    read(client.GET("/api/books/{book}/trails/{trail}", { params: { path: { book, trail } } })),
  keepTrail: (book: string, steps: TrailStep[]) =>
    read(client.POST("/api/books/{book}/trails", { params: { path: { book } }, body: { steps } })),
  lines: (
    { id, edition }: Edition,
    query: {
      slice: string;
      scenario?: string;
      periods?: string;
      figure?: string;
      order?: Order;
      limit?: number;
      cursor?: string;
    },
  ) => read(client.GET("/api/books/{book}/lines", { params: { path: { book: id }, query: { ...query, edition } } })),
  sourceRow: (book: string, load: number, row: number) =>
    read(client.GET("/api/books/{book}/loads/{load}/rows/{row}", { params: { path: { book, load, row } } })),
  members: ({ id, edition }: Edition, dimension: string, search: string) =>
    read(
      client.GET("/api/books/{book}/members", {
        params: { path: { book: id }, query: { dimension, search, limit: 30, edition } },
      }),
    ),
  complete: ({ id, edition }: Edition, text: string) =>
    read(client.GET("/api/books/{book}/complete", { params: { path: { book: id }, query: { text, edition } } })),
  loads: (book: string) => all((query) => client.GET("/api/books/{book}/loads", { params: { path: { book }, query } })),
  undo: (book: string, load: number) =>
    read(client.POST("/api/books/{book}/loads/{load}/undo", { params: { path: { book, load } } })),
  preview: (book: string, body: LoadRequest) =>
    read(client.POST("/api/books/{book}/loads/preview", { params: { path: { book } }, body })).then((job) =>
      ended(book, job.id),
    ),
  load: (book: string, body: LoadRequest, key: string) =>
    read(
      client.POST("/api/books/{book}/loads", {
        params: { path: { book } },
        body,
        headers: { "Idempotency-Key": key },
      }),
    ),
  sources: (book: string) =>
    all((query) => client.GET("/api/books/{book}/sources", { params: { path: { book }, query } })),
  sourceTables: (book: string, name: string) =>
    all((query) => client.GET("/api/books/{book}/sources/{name}/tables", { params: { path: { book, name }, query } })),
  fetch: (book: string, name: string, body: Fetch) =>
    read(client.POST("/api/books/{book}/sources/{name}/fetch", { params: { path: { book, name } }, body })),
  changes: ({ id, edition }: Edition) =>
    read(
      client.GET("/api/books/{book}/changes", { params: { path: { book: id }, query: { to: edition, limit: 50 } } }),
    ),
  closed: (book: string) => read(client.GET("/api/books/{book}/closed", { params: { path: { book } } })),
  close: (book: string, through: string | null) =>
    read(client.POST("/api/books/{book}/closed", { params: { path: { book } }, body: { through } })),
  tables: ({ id, edition }: Edition) =>
    all((query) =>
      client.GET("/api/books/{book}/tables", { params: { path: { book: id }, query: { ...query, edition } } }),
    ),
  records: (
    { id, edition }: Edition,
    table: string,
    query: { where?: string[]; order?: string; limit?: number; cursor?: string },
  ) =>
    read(
      client.GET("/api/books/{book}/tables/{table}/records", {
        params: { path: { book: id, table }, query: { ...query, edition } },
      }),
    ),
  mappings: (book: string) =>
    all((query) => client.GET("/api/books/{book}/mappings", { params: { path: { book }, query } })),
  keepMapping: (book: string, name: string, body: MappingFile) =>
    read(client.PUT("/api/books/{book}/mappings/{name}", { params: { path: { book, name } }, body })),
  removeMapping: (book: string, name: string) =>
    read(
      client
        .DELETE("/api/books/{book}/mappings/{name}", { params: { path: { book, name } }, parseAs: "stream" })
        .then((r) => (r.error === undefined ? { data: true } : { error: r.error })),
    ),
  upload: (book: string, file: File) =>
    read(
      client.POST("/api/books/{book}/uploads", {
        params: { path: { book }, query: { name: file.name } },
        body: file as unknown as string,
        bodySerializer: (body: unknown) => body as File,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    ),
};

/** What a preview shows, once its job has ended. */
function ended(book: string, job: string): Promise<LoadPreview> {
  return new Promise((resolve, reject) =>
    follow(book, job, (state) => {
      if (state.preview) resolve(state.preview);
      else if (state.state === "failed" || state.state === "cancelled")
        reject(new Problem(state.problem?.detail ?? "The preview was cancelled.", state.problem?.remedy ?? undefined));
    }),
  );
}

/** Tells of changes of a book as they come, whoever makes them; a page that is not seen keeps no connection. */
export function changesOf(book: string, onChange: () => void): () => void {
  let source: EventSource | null = null;
  let known: number | null = null;
  const listen = () => {
    source?.close();
    source = null;
    if (document.visibilityState === "hidden") return;
    source = new EventSource(`/api/books/${encodeURIComponent(book)}/editions/events`);
    // The first event tells the edition that counts now.
    source.onmessage = (event) => {
      const { edition } = JSON.parse(event.data) as { edition: number };
      if (known !== null && known !== edition) onChange();
      known = edition;
    };
  };
  listen();
  document.addEventListener("visibilitychange", listen);
  return () => {
    document.removeEventListener("visibilitychange", listen);
    source?.close();
  };
}

/** Follows a job by server-sent events until it ends. */
export function follow(book: string, job: string, onState: (job: Job) => void): () => void {
  const source = new EventSource(`/api/books/${book}/jobs/${job}/events`);
  source.onmessage = (event) => {
    const state = JSON.parse(event.data) as Job;
    onState(state);
    if (["done", "failed", "cancelled"].includes(state.state)) source.close();
  };
  return () => source.close();
}
