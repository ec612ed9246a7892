/** Parts that speak to the maker: warnings, notices, troubles, the build-up; and keys that must not reach too far. */
import { act, cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Finding, Refusal } from "../src/api/client";
import { FileButton } from "../src/parts/FileButton";
import { JobProgress } from "../src/parts/JobProgress";
import { Lost } from "../src/parts/Lost";
import { Notices } from "../src/parts/Notices";
import { say } from "../src/parts/said";
import { Scrubber } from "../src/parts/Scrubber";
import { keep, kept, Store } from "../src/parts/store";
import { Trouble } from "../src/parts/Trouble";
import { isTyping, useUndoKeys } from "../src/parts/undoKeys";
import { LeftAlone, Warnings } from "../src/views/build/strata/Warnings";

afterEach(cleanup);

const nth = (name: string, n: number): HTMLElement => {
  const found = screen.getAllByRole("button", { name })[n];
  if (!found) throw new Error(`there is no ${name} number ${n + 1}`);
  return found;
};

const finding = (key: string, change: Partial<Finding> = {}): Finding => ({
  key,
  code: "lost",
  severity: "stop",
  sentence: `Warning ${key}`,
  reason: "Because.",
  passes: [],
  elements: ["water"],
  left: false,
  mends: [{ label: `Mend ${key}`, edits: [] }],
  ...change,
} as Finding); // prettier-ignore

describe("warnings", () => {
  it("each has its reason, its mends and a way to leave it", () => {
    const [mend, leave] = [vi.fn(), vi.fn()];
    render(<Warnings findings={[finding("a"), finding("b")]} onMend={mend} onLeave={leave} />);
    expect(screen.getAllByRole("listitem")).toHaveLength(2);
    fireEvent.click(screen.getByRole("button", { name: "Mend b" }));
    expect(mend).toHaveBeenCalledWith(expect.objectContaining({ label: "Mend b" }));
    fireEvent.click(nth("I know, leave it", 0));
    expect(leave).toHaveBeenCalledWith(expect.objectContaining({ key: "a" }));
  });

  it("none stays behind when the list changes", () => {
    const nothing = () => undefined;
    const list = (keys: string) => [...keys].map((k) => finding(k));
    const seen = render(<Warnings findings={list("abcdef")} onMend={nothing} onLeave={nothing} />);
    for (const keys of ["bcdefa", "cde", "abcdef", "fedcba", ""]) {
      seen.rerender(<Warnings findings={list(keys)} onMend={nothing} onLeave={nothing} />);
      // past four the rest is folded into one line
      expect(screen.queryAllByRole("listitem")).toHaveLength(keys.length > 5 ? 5 : keys.length);
    }
  });

  it("what matters less is folded, and unfolds", () => {
    const nothing = () => undefined;
    const seven = [..."abcdefg"].map((k) => finding(k));
    render(<Warnings findings={seven} onMend={nothing} onLeave={nothing} />);
    expect(screen.queryByText("Warning e")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "3 more, of less weight" }));
    expect(screen.getByText("Warning g")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Fold the rest" }));
    expect(screen.queryByText("Warning e")).toBeNull();
  });

  it("praise is not a thing to be left", () => {
    const nothing = () => undefined;
    render(
      <Warnings
        findings={[finding("a", { severity: "good", mends: [] })]}
        onMend={nothing}
        onLeave={nothing}
      />,
    );
    expect(screen.getByText("Well done")).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("what is left is folded away, counted, and can be looked at again", () => {
    const again = vi.fn();
    render(<LeftAlone findings={[finding("a"), finding("b")]} onLeave={again} />);
    expect(screen.queryByText("Warning a")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "2 left as they are" }));
    fireEvent.click(nth("Look again", 1));
    expect(again).toHaveBeenCalledWith(expect.objectContaining({ key: "b" }));
  });
});

describe("notices", () => {
  it("say the latest, and run their way back once", () => {
    const back = vi.fn();
    render(<Notices />);
    act(() => say({ sentence: "Kraft is put away." }));
    act(() => say({ sentence: "Ivory is put away.", action: { label: "Bring it back", run: back } }));
    expect(screen.queryByText("Kraft is put away.")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Bring it back" }));
    expect(back).toHaveBeenCalledTimes(1);
  });

  it("a later one has not the way back of the one before", () => {
    render(<Notices />);
    act(() => say({ sentence: "One", action: { label: "Undo", run: () => undefined } }));
    act(() => say({ sentence: "Two" }));
    expect(screen.queryByRole("button", { name: "Undo" })).toBeNull();
  });
});

describe("trouble", () => {
  it("says what happened and that nothing was lost", () => {
    const again = vi.fn();
    render(<Trouble error={new Refusal(500, "fault", "Something went wrong on our side.")} again={again} />);
    expect(screen.getByRole("alert").textContent).toContain("Nothing you made was lost.");
    fireEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(again).toHaveBeenCalled();
  });

  it("without a connection it promises to try again", () => {
    render(<Trouble error={new Refusal(0, "offline", "The workshop computer does not answer.")} />);
    expect(screen.getByRole("alert").textContent).toContain("tries again by itself");
  });

  it("is the heading of a view of which nothing else is there, and of no other", () => {
    const { unmount } = render(<Trouble alone error={new Error("The drawer cannot be opened.")} />);
    expect(screen.getByRole("heading", { level: 1 }).textContent).toBe("The drawer cannot be opened.");
    unmount();
    render(<Trouble error={new Error("The measures cannot be had.")} />);
    expect(screen.queryByRole("heading")).toBeNull();
  });

  it("a view that breaks is a sentence within its frame, and the way home", async () => {
    const quiet = vi.spyOn(console, "error").mockImplementation(() => undefined);
    const Broken = () => {
      throw new Error("so many inks");
    };
    const router = createMemoryRouter([{ path: "/", element: <Broken />, errorElement: <Lost inside /> }]);
    render(<RouterProvider router={router} />);
    expect((await screen.findByRole("heading")).textContent).toBe("This page could not be opened");
    expect(screen.getByRole("link", { name: "Go home" }).getAttribute("href")).toBe("/");
    quiet.mockRestore();
  });
});

describe("the build-up", () => {
  it("steps by button and stops at both ends", () => {
    const move = vi.fn();
    const own = { count: 3, colours: ["#111", "#222", "#333"], label: "After pass 1 of 3", onMove: move };
    const seen = render(<Scrubber {...own} at={1} />);
    fireEvent.click(screen.getByRole("button", { name: "One pass back" }));
    expect(move).toHaveBeenCalledWith(0);
    seen.rerender(<Scrubber {...own} at={0} />);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "One pass back" }).disabled).toBe(true);
    seen.rerender(<Scrubber {...own} at={3} />);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "One pass on" }).disabled).toBe(true);
  });

  it("of nothing there is nothing to step through", () => {
    render(<Scrubber count={0} at={0} colours={[]} label="Bare" onMove={() => undefined} />);
    expect(screen.getByRole<HTMLInputElement>("slider").disabled).toBe(true);
  });
});

describe("keys of undo", () => {
  const pressed = (init: KeyboardEventInit, on: EventTarget = window) =>
    on.dispatchEvent(new KeyboardEvent("keydown", { bubbles: true, cancelable: true, ...init }));

  it("undo and redo, by Ctrl and by Cmd, however the letter comes", () => {
    const [undo, redo] = [vi.fn(), vi.fn()];
    const hook = renderHook(() => useUndoKeys(undo, redo));
    pressed({ key: "z", ctrlKey: true });
    pressed({ key: "z", metaKey: true });
    pressed({ key: "Z", ctrlKey: true, shiftKey: true });
    pressed({ key: "z" });
    expect([undo.mock.calls.length, redo.mock.calls.length]).toEqual([2, 1]);
    hook.unmount();
    pressed({ key: "z", ctrlKey: true });
    expect(undo).toHaveBeenCalledTimes(2);
  });

  it("leave a field that is being typed in its own undo", () => {
    const undo = vi.fn();
    renderHook(() => useUndoKeys(undo, undo));
    const field = document.body.appendChild(document.createElement("input"));
    pressed({ key: "z", ctrlKey: true }, field);
    expect(undo).not.toHaveBeenCalled();
    field.type = "range";
    expect(isTyping(field)).toBe(false);
    field.remove();
  });
});

describe("what is kept in this browser", () => {
  beforeEach(() => localStorage.clear());

  it("comes back, and damaged it is as if it were not there", () => {
    expect(keep("a", { step: 3 })).toBe(true);
    expect(kept("a", null)).toEqual({ step: 3 });
    localStorage.setItem("a", "{half");
    expect(kept("a", "none")).toBe("none");
    expect(kept("nothing", 7)).toBe(7);
  });

  it("a full store is told, not thrown", () => {
    const full = vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    expect(keep("a", 1)).toBe(false);
    full.mockRestore();
  });

  it("a store tells all who listen, and those who left no more", () => {
    class Count extends Store<{ n: number }> {
      more = () => this.set({ n: this.snapshot().n + 1 });
    }
    const count = new Count({ n: 0 });
    const heard = vi.fn();
    const leave = count.subscribe(heard);
    const before = count.snapshot();
    count.more();
    expect(before.n).toBe(0);
    expect(count.snapshot().n).toBe(1);
    leave();
    count.more();
    expect(heard).toHaveBeenCalledTimes(1);
  });
});

describe("a file asked for", () => {
  it("is handed on, and may be the same one again", () => {
    const taken = vi.fn();
    render(
      <FileButton what="A card" accept="image/*" onFile={taken}>
        Choose
      </FileButton>,
    );
    const file = new File(["x"], "card.jpg", { type: "image/jpeg" });
    for (let n = 0; n < 2; n++)
      fireEvent.change(screen.getByLabelText("A card"), { target: { files: [file] } });
    expect(taken.mock.calls).toEqual([[file], [file]]);
    fireEvent.change(screen.getByLabelText("A card"), { target: { files: [] } });
    expect(taken).toHaveBeenCalledTimes(2);
  });
});

describe("a job's progress", () => {
  const job = { state: "running", share: 0.5, doing: "", sentence: "", field: "" } as const;

  it("is said while it goes on, and not before or after", () => {
    const shown = render(<JobProgress job={job} what="Reading" />);
    expect(screen.getByRole("status").textContent).toBe("Reading …");
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("50");
    shown.rerender(<JobProgress job={{ ...job, doing: "Looking at the light" }} what="Reading" />);
    expect(screen.getByRole("status").textContent).toBe("Looking at the light …");
    for (const state of ["done", "failed", "stopped"] as const) {
      shown.rerender(<JobProgress job={{ ...job, state }} what="Reading" />);
      expect(screen.queryByRole("status")).toBeNull();
    }
    shown.rerender(<JobProgress job={null} what="Reading" />);
    expect(screen.queryByRole("status")).toBeNull();
  });
});
