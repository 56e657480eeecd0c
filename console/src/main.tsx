import { createTheme, MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import "@mantine/core/styles.css";
import "@fontsource-variable/source-sans-3/wght.css";
import "@fontsource-variable/source-serif-4/wght.css";
import "./app.css";
import "./grid.css";
import { App } from "./App";

const theme = createTheme({
  fontFamily: '"Source Sans 3 Variable", system-ui, sans-serif',
  headings: { fontFamily: '"Source Serif 4 Variable", Georgia, serif' },
  primaryColor: "ink",
  primaryShade: { light: 7, dark: 6 },
  defaultRadius: "sm",
  colors: {
    ink: ["#eef3f6", "#dbe5ec", "#b9ccd8", "#94b1c3", "#7a9db3", "#557f99", "#3c657f", "#274b63", "#1e3b4f", "#152a39"],
  },
});

// Answers belong to an edition and a question: they do not change by themselves.
const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY, retry: false, refetchOnWindowFocus: false } },
});

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <MantineProvider theme={theme} defaultColorScheme="auto">
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </MantineProvider>
  </StrictMode>,
);
