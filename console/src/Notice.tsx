import { Button, Loader } from "@mantine/core";
import type { ReactNode } from "react";
import { Problem } from "./api/client";

interface NoticeProps {
  title: string;
  waiting?: boolean;
  error?: Error | null;
  retry?: () => void;
  children?: ReactNode;
}

/** One form for empty, waiting and failed states: what it is, and what to do next. */
export function Notice({ title, waiting, error, retry, children }: NoticeProps) {
  return (
    <section className="notice" role={error ? "alert" : "status"}>
      {waiting && <Loader size="sm" aria-hidden="true" />}
      <h2>{title}</h2>
      {error && <p>{error.message}</p>}
      {error instanceof Problem && error.remedy && <p className="remedy">{error.remedy}</p>}
      {children && <p>{children}</p>}
      {retry && (
        <Button size="xs" variant="light" onClick={retry}>
          Try again
        </Button>
      )}
    </section>
  );
}
