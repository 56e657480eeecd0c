// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test, vi } from "vitest";
import { api, Problem, type TrailStep } from "../api/client";
import { answer, book, question, set, shown } from "../testing";
import { AskPage } from "./AskPage";

/** Trails as the service keeps them. */
function keeping(trails: Record<string, TrailStep[]> = {}) {
  vi.spyOn(api, "keepTrail").mockImplementation(async (_, steps) => {
    const id = `t${steps.map((s) => s.label.length).join("-")}`;
    trails[id] = steps;
    return { id, steps };
  });
  vi.spyOn(api, "trail").mockImplementation(async (_, id) => {
    const steps = trails[id];
    if (!steps) throw new Problem(`There is no trail “${id}” in this book.`, "Ask anew.");
    return { id, steps };
  });
  vi.spyOn(api, "complete").mockResolvedValue({ from: 0, items: [] });
  return trails;
}

const ask = async (text: string) => {
  await userEvent.type(screen.getByLabelText("Your question"), text);
  await userEvent.click(screen.getByRole("button", { name: "Ask" }));
};
const address = () => screen.getByLabelText("address").textContent;
const headings = () => screen.getAllByRole("heading").map((h) => h.textContent);

test("an empty page begins with questions of the book, and one of them is asked by a click", async () => {
  keeping();
  const asked = vi.spyOn(api, "ask").mockResolvedValue(set({ answers: [answer("Result: EUR 10.")] }));
  shown(<AskPage book={book} />);
  await userEvent.click(screen.getByRole("button", { name: "result versus budget by company" }));
  await screen.findByRole("heading", { name: "Result: EUR 10." });
  expect(asked).toHaveBeenCalledWith(book, "result versus budget by company", { trail: null }, undefined);
});

test("a follow-up goes with the talk that the service keeps, and the address names the trail of both", async () => {
  const trails = keeping();
  const asked = vi
    .spyOn(api, "ask")
    .mockResolvedValueOnce(set({ answers: [answer("First.")] }))
    .mockResolvedValueOnce(set({ answers: [answer("Second.", { question: { ...question, kind: { is: "why" } } })] }));
  shown(<AskPage book={book} />);
  await ask("fuel");
  await screen.findByRole("heading", { name: "First." });
  await ask("why");
  await screen.findByRole("heading", { name: "Second." });
  expect(asked.mock.calls[1]?.[2]).toEqual({ trail: "t4" });
  expect(address()).toBe("/?trail=t4-3");
  expect(trails["t4-3"]?.map((s) => s.label)).toEqual(["fuel", "why"]);
});

test("a link opens the last paper of its trail, and a step of it leads back", async () => {
  keeping({
    abc: [
      { question, label: "fuel" },
      { question: { ...question, kind: { is: "why" } }, label: "why" },
    ],
  });
  vi.spyOn(api, "answer").mockImplementation(async (_, q) =>
    set({ answers: [answer(q.kind.is === "why" ? "Second." : "First.", { question: q })] }),
  );
  shown(<AskPage book={book} />, "/?trail=abc");
  await screen.findByRole("heading", { name: "Second." });
  await userEvent.click(screen.getByRole("button", { name: "fuel" }));
  await screen.findByRole("heading", { name: "First." });
  expect(address()).toBe("/?trail=t4");
});

test("a trail that is not kept any more is told, with what to do, and the page can be used", async () => {
  keeping();
  shown(<AskPage book={book} />, "/?trail=lost");
  expect(await screen.findByText("There is no trail “lost” in this book.")).toBeTruthy();
  expect(screen.getByText("Ask anew.")).toBeTruthy();
  expect(screen.getByLabelText("Questions to begin with")).toBeTruthy();
});

test("asked back, a choice is put as its own question", async () => {
  keeping();
  const other = { ...question, scope: { ...question.scope, figure: "m:result" } };
  vi.spyOn(api, "ask").mockResolvedValue(
    set({
      outcome: "asks-back",
      choices: [
        { means: "Fuel of the ships", question },
        { means: "Result of the ships", question: other },
      ],
    }),
  );
  const put = vi.spyOn(api, "answer").mockResolvedValue(set({ answers: [answer("Result.", { question: other })] }));
  shown(<AskPage book={book} />);
  await ask("of the ships");
  expect(await screen.findByRole("heading", { name: "Which of these is meant?" })).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Result of the ships" }));
  await screen.findByRole("heading", { name: "Result." });
  expect(put).toHaveBeenCalledWith(book, other);
});

test("what cannot be answered keeps the paper, says why, and offers what can be", async () => {
  keeping();
  const asked = vi
    .spyOn(api, "ask")
    .mockResolvedValueOnce(set({ answers: [answer("First.")] }))
    .mockResolvedValueOnce(
      set({ outcome: "cannot-answer", because: "The book has no weather.", nearest: ["fuel by month"] }),
    )
    .mockResolvedValueOnce(set({ answers: [answer("By month.")] }));
  shown(<AskPage book={book} />);
  await ask("fuel");
  await screen.findByRole("heading", { name: "First." });
  await ask("fuel by weather");
  await screen.findByText("The book has no weather.");
  expect(headings()).toContain("First.");
  await userEvent.click(screen.getByRole("button", { name: "fuel by month" }));
  await screen.findByRole("heading", { name: "By month." });
  expect(asked.mock.calls[2]?.[1]).toBe("fuel by month");
});

test("several demands of one text stand under each other", async () => {
  keeping();
  vi.spyOn(api, "ask").mockResolvedValue(
    set({
      asked: "fuel",
      answers: [answer("Fuel.")],
      further: [
        set({ asked: "result", answers: [answer("Result.", { question: { ...question, kind: { is: "values" } } })] }),
      ],
    }),
  );
  shown(<AskPage book={book} />);
  await ask("fuel and then the result");
  await waitFor(() => expect(headings()).toEqual(expect.arrayContaining(["Fuel.", "Result."])));
});

test("go back and start afresh are walked by words", async () => {
  keeping({
    two: [
      { question, label: "fuel" },
      { question: { ...question, kind: { is: "why" } }, label: "why" },
    ],
  });
  vi.spyOn(api, "answer").mockImplementation(async (_, q) =>
    set({ answers: [answer(q.kind.is === "why" ? "Second." : "First.", { question: q })] }),
  );
  vi.spyOn(api, "ask")
    .mockResolvedValueOnce(set({ outcome: "goes-back" }))
    .mockResolvedValueOnce(set({ outcome: "starts-afresh" }));
  shown(<AskPage book={book} />, "/?trail=two");
  await screen.findByRole("heading", { name: "Second." });
  await ask("go back");
  await screen.findByRole("heading", { name: "First." });
  await ask("start afresh");
  expect(await screen.findByLabelText("Questions to begin with")).toBeTruthy();
  expect(address()).toBe("/");
});

test("a service that is away is told, and nothing of the paper is lost", async () => {
  keeping();
  vi.spyOn(api, "ask")
    .mockResolvedValueOnce(set({ answers: [answer("First.")] }))
    .mockRejectedValueOnce(new Problem("The service does not answer.", "Check that it is running, then try again."));
  shown(<AskPage book={book} />);
  await ask("fuel");
  await screen.findByRole("heading", { name: "First." });
  await ask("why");
  expect(await screen.findByRole("alert")).toBeTruthy();
  expect(screen.getByText("Check that it is running, then try again.")).toBeTruthy();
  expect(headings()).toContain("First.");
});
