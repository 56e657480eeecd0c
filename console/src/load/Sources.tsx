import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Book, follow, type Job } from "../api/client";
import { Notice } from "../Notice";

/** Fetching a table from a database or feed; what comes is previewed and loaded like a file. */
export function Sources({ book, onFetched }: { book: Book; onFetched: (upload: string) => void }) {
  const sources = useQuery({ queryKey: ["sources", book.id], queryFn: () => api.sources(book.id) });
  const [source, setSource] = useState("");
  const [table, setTable] = useState("");
  const [filter, setFilter] = useState("");
  const [job, setJob] = useState<Job | null>(null);
  const chosen = source || sources.data?.[0]?.name || "";
  const tables = useQuery({
    queryKey: ["source tables", book.id, chosen],
    queryFn: () => api.sourceTables(book.id, chosen),
    enabled: chosen !== "",
  });
  const start = useMutation({
    mutationFn: () => api.fetch(book.id, chosen, { from: table || tables.data?.[0], filter: filter.trim() || null }),
    onSuccess: (j) => {
      setJob(j);
      follow(book.id, j.id, (state) => {
        setJob(state);
        if (state.upload) onFetched(state.upload.id);
      });
    },
  });
  if (!sources.data || sources.data.length === 0) return null;
  const running = job !== null && !["done", "failed", "cancelled"].includes(job.state);
  return (
    <section className="controls" aria-label="Fetch from a source">
      <NativeSelect
        label="Or fetch from"
        size="xs"
        value={chosen}
        data={sources.data.map((s) => s.name)}
        onChange={(e) => setSource(e.currentTarget.value)}
      />
      <NativeSelect
        label="Table"
        size="xs"
        value={table}
        data={tables.data ?? []}
        onChange={(e) => setTable(e.currentTarget.value)}
      />
      <TextInput
        label="Only where"
        size="xs"
        placeholder="in the source's own words"
        value={filter}
        onChange={(e) => setFilter(e.currentTarget.value)}
      />
      <Button
        variant="default"
        onClick={() => start.mutate()}
        disabled={!tables.data}
        loading={start.isPending || running}
      >
        Fetch
      </Button>
      {running && <span role="status">{job.rows.toLocaleString("en-GB")} rows so far</span>}
      {tables.error && <Notice title="The source cannot be read" error={tables.error} retry={() => tables.refetch()} />}
      {start.error && <Notice title="The fetch did not start" error={start.error} />}
      {job?.problem && (
        <p role="alert">
          {job.problem.detail} {job.problem.remedy}
        </p>
      )}
    </section>
  );
}
