/** Running a house: how it is, links that are told once, one's own account; and the door with a link. */
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { House } from "../src/api/client";
import { keys } from "../src/api/keys";
import { Component as HouseView, Given, HowItIs, Tablets } from "../src/views/account/House";
import { GiveUp, OtherPassword } from "../src/views/account/Mine";
import { served, show } from "./shown";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const house = (change: Partial<House> = {}): House => ({
  version: "1.2.3", open: false, free_mb: 82_900, data_mb: 12.4, jobs: 0, failed: 0,
  makers: [{ id: 1, name: "Odile", kept_mb: 1.2, seen: "2026-03-12T18:00:00Z" }, { id: 2, name: "Wren", kept_mb: 0, seen: null }],
  backup: { made: "2026-03-12T03:40:00Z", old: false }, addresses: [], invitations: [], ...change,
}); // prettier-ignore
const session = { name: "Odile", units: "in", demo: false, owner: true, joining: "invited" };
const open = (change: Partial<House> = {}) =>
  show(<HouseView />, { known: [[keys.house, house(change)], [keys.session, session]] }); // prettier-ignore

describe("how it is", () => {
  it("is quiet where all is well", () => {
    show(<HowItIs house={house()} />);
    expect(screen.getByText("Last backed up on 12 March 2026.")).toBeTruthy();
    expect(screen.getByText(/12 MB of data, 82\.9 GB free on the disk\. Nothing under way\./)).toBeTruthy();
    expect(screen.queryByText(/make backup/)).toBeNull();
  });

  it("says what to do where there is no backup, or an old one", () => {
    show(<HowItIs house={house({ backup: null })} />);
    expect(screen.getByText(/Never backed up yet\. Run “make backup”/)).toBeTruthy();
    cleanup();
    show(<HowItIs house={house({ backup: { made: "2026-03-12T03:40:00Z", old: true } })} />);
    expect(screen.getByText(/12 March 2026\. Run “make backup”/)).toBeTruthy();
  });

  it("counts what is under way and what ended badly", () => {
    show(<HowItIs house={house({ jobs: 2, failed: 1 })} />);
    expect(screen.getByText(/2 under way\. 1 ended badly\./)).toBeTruthy();
  });
});

describe("links to hand on", () => {
  it("carry the address at which the others find the house, not the one of this computer", () => {
    const found = house({
      addresses: [{ address: "http://192.0.2.9:8000", code: "M4,4h1v1h-1z", side: 33 }],
    });
    show(<Given house={found} said="To make an account here:" token="abc" />);
    expect(screen.getByText("http://192.0.2.9:8000/join/abc")).toBeTruthy();
    cleanup();
    show(<Given house={house()} said="To make an account here:" token="abc" />);
    expect(screen.getByText(`${window.location.origin}/join/abc`)).toBeTruthy();
  });

  it("are made for somebody new, and for who forgot a password, not for oneself", async () => {
    const sent = served({ "POST /api/house/invitations": { token: "tok" }, "GET /api/house": house() });
    open();
    const own = screen.getByRole("button", { name: "New password for Odile" }) as HTMLButtonElement;
    expect(own.disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "New password for Wren" }));
    await waitFor(() => expect(screen.getByText("For Wren, to choose a new password:")).toBeTruthy());
    expect(sent.find((s) => s.body)?.body).toEqual({ said: "", reset: 2 });
    fireEvent.change(screen.getByLabelText("For whom (only you see it)"), { target: { value: "Piers" } });
    fireEvent.click(screen.getByRole("button", { name: "Invite somebody" }));
    await waitFor(() => expect(screen.getByText("To make an account here:")).toBeTruthy());
    expect(sent.filter((s) => s.body).at(-1)?.body).toEqual({ said: "Piers" });
  });

  it("that are out are named, and taken back", async () => {
    const invitations = [
      { id: 5, said: "Piers", reset: "", expires: "2026-03-19T18:00:00Z" },
      { id: 6, said: "", reset: "Wren", expires: "2026-03-19T18:00:00Z" },
    ];
    const sent = served({ "DELETE /api/house/invitations/5": {}, "GET /api/house": house() });
    open({ invitations });
    expect(screen.getByText("Piers, until 19 March 2026")).toBeTruthy();
    expect(screen.getByText("New password for Wren, until 19 March 2026")).toBeTruthy();
    const [first] = screen.getAllByRole("button", { name: "Take it back" });
    if (first) fireEvent.click(first);
    await waitFor(() => expect(sent.some((s) => s.path.endsWith("/invitations/5"))).toBe(true));
  });
});

describe("tablets", () => {
  it("find it by its address and a code", () => {
    show(
      <Tablets
        house={house({ addresses: [{ address: "http://192.0.2.9:8000", code: "M4,4h1v1h-1z", side: 33 }] })}
      />,
    );
    const code = screen.getByRole("img", { name: "http://192.0.2.9:8000 as a code for a camera" });
    expect(code.getAttribute("viewBox")).toBe("0 0 33 33");
    cleanup();
    show(<Tablets house={house()} />);
    expect(screen.getByText(/make serve HOST=0\.0\.0\.0/)).toBeTruthy();
  });
});

describe("one's own account", () => {
  it("takes another password once both are there, and says that others are signed out", async () => {
    const sent = served({ "POST /api/session/password": {} });
    show(<OtherPassword />);
    const change = screen.getByRole("button", { name: "Change it" }) as HTMLButtonElement;
    expect(change.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/^As it is\W*$/), { target: { value: "old one" } });
    fireEvent.change(screen.getByLabelText(/^As it is to be/), { target: { value: "new one" } });
    fireEvent.click(change);
    await waitFor(() => expect(sent[0]?.body).toEqual({ old: "old one", new: "new one" }));
    await waitFor(() => expect((screen.getByLabelText(/^As it is\W*$/) as HTMLInputElement).value).toBe(""));
  });

  it("is not given up by one press", () => {
    show(<GiveUp />);
    fireEvent.click(screen.getByRole("button", { name: "Give this account up" }));
    expect(screen.getByText(/gone for good/)).toBeTruthy();
    const last = screen.getByRole("button", { name: "Everything of mine is to go" }) as HTMLButtonElement;
    expect(last.disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Stay" }));
    expect(screen.getByRole("button", { name: "Give this account up" })).toBeTruthy();
  });
});
