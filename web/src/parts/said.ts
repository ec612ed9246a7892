/** What is said at the foot of the screen, from wherever it is to be said. */
import { Store } from "./store";

export interface Notice {
  sentence: string;
  action?: { label: string; run: () => void };
}

class NoticeStore extends Store<{ notice: Notice | null; open: boolean }> {
  say = (notice: Notice): void => this.set({ notice, open: true });
  close = (): void => this.set({ open: false });
}

export const notices = new NoticeStore({ notice: null, open: false });

/** Say something once; from anywhere, so that no refusal needs a component to be said. */
export const say = notices.say;
