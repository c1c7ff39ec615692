// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { meQuery } from "../api/queries";
import type { Me } from "../api/types";
import { Gate } from "./Gate";

const NOBODY: Me = {
  id: null,
  name: null,
  alone: false,
  guest: false,
  passphrase: false,
  classes: [],
  door: null,
  one_click: [],
};
const ILSE: Me = { ...NOBODY, id: "p1", name: "Ilse", passphrase: true };
let told: (() => void) | null = null;
let answer: Me | Error = ILSE;

vi.mock("../api/client", async (original) => ({
  ...(await original<typeof import("../api/client")>()),
  onSignedOut: (tell: () => void) => {
    told = tell;
    return () => {
      told = null;
    };
  },
  call: vi.fn(async () => {
    if (answer instanceof Error) throw answer;
    return answer;
  }),
}));

function show(me: Me, at = "/sheets/s1") {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  queries.setQueryData(meQuery.queryKey, me);
  return render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={[at]}>
        <Gate>
          <textarea aria-label="Work" defaultValue="" />
        </Gate>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}
const signIn = async (name: string) => {
  fireEvent.change(screen.getByLabelText("Name"), { target: { value: name } });
  fireEvent.change(screen.getByLabelText("Passphrase"), { target: { value: "tern rope lantern" } });
  await act(async () => {
    fireEvent.click(screen.getByRole("button", { name: "Sign in", hidden: true }));
  });
};

beforeEach(() => {
  HTMLDialogElement.prototype.showModal = function open() {
    this.open = true;
  };
  answer = ILSE;
});
afterEach(cleanup);

describe("the gate", () => {
  it("lets in who is signed in, and who works alone", () => {
    show(ILSE);
    expect(screen.getByLabelText("Work")).toBeTruthy();
    cleanup();
    show({ ...ILSE, alone: true, name: "At this easel" });
    expect(screen.getByLabelText("Work")).toBeTruthy();
  });
  it("asks nobody's name before the work is shown", async () => {
    show(NOBODY);
    expect(screen.queryByLabelText("Work")).toBeNull();
    await signIn("Ilse");
    expect(await screen.findByLabelText("Work")).toBeTruthy();
  });
  it("shows the way in by a code to nobody too", () => {
    show(NOBODY, "/join/ABCDEFGH");
    expect(screen.getByLabelText("Work")).toBeTruthy();
  });
  it("tells why nobody can sign in yet", () => {
    show({ ...NOBODY, door: "There is no class here yet." });
    expect(screen.getByText("There is no class here yet.")).toBeTruthy();
    expect(screen.queryByLabelText("Name")).toBeNull();
  });
  it("offers the demo's people by one click where there are any", async () => {
    show({ ...NOBODY, one_click: [{ person_id: "p1", name: "Ilse", role: "student" }] });
    await act(async () => {
      fireEvent.click(screen.getByRole("button", { name: /Ilse/ }));
    });
    expect(await screen.findByLabelText("Work")).toBeTruthy();
  });
  it("asks again over the work when a sign-in has ended, and keeps what is written", async () => {
    show(ILSE);
    fireEvent.change(screen.getByLabelText("Work"), { target: { value: "half a sheet" } });
    act(() => told?.());
    expect(screen.getByRole("dialog").getAttribute("aria-label")).toBe("You are signed out");
    expect((screen.getByLabelText("Work") as HTMLTextAreaElement).value).toBe("half a sheet");
    await signIn("Ilse");
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect((screen.getByLabelText("Work") as HTMLTextAreaElement).value).toBe("half a sheet");
  });
  it("stays shut and says why when the passphrase is wrong", async () => {
    show(NOBODY);
    answer = new Error("That name and passphrase do not go together.");
    await signIn("Ilse");
    expect((await screen.findByRole("alert")).textContent).toContain("do not go together");
    expect(screen.queryByLabelText("Work")).toBeNull();
    expect((screen.getByLabelText("Name") as HTMLInputElement).value).toBe("Ilse");
  });
});
