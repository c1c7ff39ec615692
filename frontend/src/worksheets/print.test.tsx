// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError } from "../api/client";
import { PrintForm } from "./PrintForm";
import { type Choice, FIRST } from "./words";

const CHOICE: Choice = { ...FIRST, copies: 3, classLine: "Harbour class", seed: 7 };
let asked: { method: string; path: string; body?: unknown }[] = [];
let made = 0;
let answer: () => void = () => {};
let refused = "";

vi.mock("../api/client", async (original) => {
  const real = await original<typeof import("../api/client")>();
  return {
    ...real,
    call: vi.fn(async (method: string, path: string, given?: { body?: unknown }) => {
      if (path === "/api/me") return { classes: [] };
      if (path === "/api/worksheets" && method === "get") return { sets: [] };
      asked.push({ method, path, body: given?.body });
      if (method === "post" && path === "/api/worksheets") {
        if (refused) throw new real.ApiError(422, refused);
        return { id: "w", made: 0, copies: 3 };
      }
      if (method === "post") {
        await new Promise<void>((done) => {
          answer = done;
        });
        made += 1;
        return { id: "w", made, copies: 3 };
      }
      return { sets: [] };
    }),
  };
});

const show = (changed: Partial<Parameters<typeof PrintForm>[0]> = {}) =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <PrintForm
        chosen={["lower rims", "tilts"]}
        ofPicture={false}
        choice={CHOICE}
        papers={["A4", "A3"]}
        most={40}
        onChoice={() => {}}
        {...changed}
      />
    </QueryClientProvider>,
  );
const settle = () => act(() => new Promise((done) => setTimeout(done, 0)));
const oneMore = async () => {
  answer();
  await settle();
};
const press = async (name: string) => {
  fireEvent.click(screen.getByRole("button", { name }));
  await settle();
};

beforeEach(() => {
  asked = [];
  made = 0;
  refused = "";
});
afterEach(cleanup);

describe("a set of worksheets", () => {
  it("is made copy by copy, and tells how far it has come", async () => {
    show();
    await press("Make the set");
    expect(asked[0]?.body).toMatchObject({
      exercises: ["lower rims", "tilts"],
      copies: 3,
      class_line: "Harbour class",
      seed: 7,
      names: [],
      sheet_id: null,
    });
    for (const n of [1, 2]) {
      await oneMore();
      expect(screen.getByText(`${n} of 3`)).toBeTruthy();
    }
    await oneMore();
    expect(screen.getByText("The set is made.")).toBeTruthy();
    expect(screen.getByRole("link", { name: "Answers (PDF)" }).getAttribute("href")).toBe(
      "/api/worksheets/w/answers.pdf",
    );
    expect(asked.filter((one) => one.path.endsWith("/copies"))).toHaveLength(3);
  });

  it("is forgotten when it is stopped", async () => {
    show();
    await press("Make the set");
    await press("Stop");
    await oneMore();
    expect(asked.at(-1)).toMatchObject({ method: "delete", path: "/api/worksheets/{set_id}" });
    expect(screen.queryByText("The set is made.")).toBeNull();
  });

  it("cannot be made of nothing", () => {
    show({ chosen: [] });
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Make the set" }).disabled).toBe(true);
    expect(screen.getByText("No exercise is chosen yet.")).toBeTruthy();
  });

  it("says in the server's words why it cannot be", async () => {
    refused = "sheet_id: no edge is sighted on this sheet yet";
    show();
    await press("Make the set");
    expect(screen.getByRole("alert").textContent).toBe(refused);
    expect(new ApiError(422, refused).message).toBe(refused);
  });

  it("asks for others of the kind by another seed", () => {
    const onChoice = vi.fn();
    show({ onChoice });
    fireEvent.click(screen.getByRole("button", { name: "Others of the kind" }));
    expect(onChoice.mock.calls[0]?.[0].seed).toBeGreaterThanOrEqual(0);
    fireEvent.change(screen.getByRole("combobox", { name: "Paper" }), { target: { value: "A3" } });
    expect(onChoice).toHaveBeenLastCalledWith({ paper: "A3" });
  });

  it("offers a picture only to exercises that ask about one", () => {
    show();
    expect(screen.queryByRole("combobox", { name: "Picture" })).toBeNull();
    cleanup();
    show({ ofPicture: true });
    expect(screen.getByRole("combobox", { name: "Picture" })).toBeTruthy();
  });
});
