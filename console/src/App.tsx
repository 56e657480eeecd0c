import { ActionIcon, Anchor, NativeSelect, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, Navigate, Route, Routes, useNavigate, useParams } from "react-router";
import { api, changesOf } from "./api/client";
import { AskPage } from "./ask/AskPage";
import { Boundary } from "./Boundary";
import { LoadPage } from "./load/LoadPage";
import { Notice } from "./Notice";
import { TablesPage } from "./tables/TablesPage";
import { WordsPage } from "./words/WordsPage";

/** The book that this browser looked at last is the one to open next time. */
const lastBook = {
  get: () => localStorage.getItem("bearing.book"),
  set: (id: string) => localStorage.setItem("bearing.book", id),
};

/** The frame: which book, which period, what kind of data, and the two pages. */
export function App() {
  const books = useQuery({ queryKey: ["books"], queryFn: api.books });
  if (books.isPending) return <Notice title="Opening the books…" waiting />;
  if (books.error)
    return <Notice title="The books cannot be opened" error={books.error} retry={() => books.refetch()} />;
  const first = books.data.find((b) => b.id === lastBook.get()) ?? books.data[0];
  if (!first)
    return (
      <Notice title="There is no book yet">
        Make one with <code>bearing books create company.json</code>, load its accounts and a ledger, and come back. To
        look around first, start the service with <code>--demo</code>.
      </Notice>
    );
  return (
    <Routes>
      <Route path="/:book/ask" element={<Frame page="ask" />} />
      <Route path="/:book/words" element={<Frame page="words" />} />
      <Route path="/:book/tables" element={<Frame page="tables" />} />
      <Route path="/:book/loads" element={<Frame page="loads" />} />
      <Route path="*" element={<Navigate to={`/${first.id}/ask`} replace />} />
    </Routes>
  );
}

function Frame({ page }: { page: "ask" | "words" | "tables" | "loads" }) {
  const { book: id = "" } = useParams();
  const navigate = useNavigate();
  const books = useQuery({ queryKey: ["books"], queryFn: api.books });
  const book = useQuery({ queryKey: ["book", id], queryFn: () => api.book(id) });
  const queries = useQueryClient();
  // What somebody else loads is seen at once; what is on the page stays until the book is known anew.
  useEffect(
    () =>
      changesOf(id, () =>
        queries.invalidateQueries({
          predicate: (q) => ["book", "books", "loads", "tables", "words"].includes(String(q.queryKey[0])),
        }),
      ),
    [id, queries],
  );
  const opened = book.data?.id;
  useEffect(() => {
    if (opened) lastBook.set(opened);
  }, [opened]);
  return (
    <div className="frame">
      <a className="skip" href="#main">
        Skip to the paper
      </a>
      <header className="masthead">
        <Link to={`/${id}/ask`} className="brand" aria-label="Bearing, to the question line">
          <svg viewBox="0 0 32 32" aria-hidden="true">
            <circle cx="16" cy="16" r="13" />
            <path d="M16 16 23 8" />
          </svg>
          Bearing
        </Link>
        {(books.data?.length ?? 0) > 1 ? (
          <NativeSelect
            aria-label="Book"
            size="xs"
            value={id}
            data={books.data?.map((b) => ({ value: b.id, label: b.name }))}
            onChange={(e) => navigate(`/${e.currentTarget.value}/${page}`)}
          />
        ) : (
          <span className="bookname">{book.data?.name}</span>
        )}
        {book.data?.currentPeriodName && (
          <span className="period">
            {book.data.closedThroughName ? "closed" : "actuals"} through {book.data.currentPeriodName}
          </span>
        )}
        {book.data && book.data.provenance !== "real" && <span className="badge">{book.data.provenance} data</span>}
        <nav aria-label="Pages">
          <Anchor component={Link} to={`/${id}/ask`} aria-current={page === "ask" ? "page" : undefined}>
            Ask
          </Anchor>
          <Anchor component={Link} to={`/${id}/words`} aria-current={page === "words" ? "page" : undefined}>
            Words
          </Anchor>
          <Anchor component={Link} to={`/${id}/tables`} aria-current={page === "tables" ? "page" : undefined}>
            Tables
          </Anchor>
          <Anchor component={Link} to={`/${id}/loads`} aria-current={page === "loads" ? "page" : undefined}>
            Loads
          </Anchor>
          <SchemeSwitch />
        </nav>
      </header>
      <main id="main" tabIndex={-1}>
        {book.error && <Notice title="This book cannot be opened" error={book.error} retry={() => book.refetch()} />}
        {book.data?.notices.map((n) => (
          <Notice key={n} title={n} />
        ))}
        <Boundary key={`${id}/${page}`}>
          {book.data && page === "ask" && <AskPage book={book.data} />}
          {book.data && page === "words" && <WordsPage book={book.data} />}
          {book.data && page === "tables" && <TablesPage book={book.data} />}
          {book.data && page === "loads" && <LoadPage book={book.data} />}
        </Boundary>
      </main>
    </div>
  );
}

function SchemeSwitch() {
  const { setColorScheme } = useMantineColorScheme();
  const dark = useComputedColorScheme("light") === "dark";
  return (
    <ActionIcon
      variant="subtle"
      aria-label={dark ? "Use the light page" : "Use the dark page"}
      title={dark ? "Light page" : "Dark page"}
      onClick={() => setColorScheme(dark ? "light" : "dark")}
    >
      <svg viewBox="0 0 20 20" width="16" height="16" aria-hidden="true">
        <circle cx="10" cy="10" r="7" fill="none" stroke="currentColor" strokeWidth="1.6" />
        <path d="M10 3a7 7 0 0 1 0 14Z" fill="currentColor" />
      </svg>
    </ActionIcon>
  );
}
