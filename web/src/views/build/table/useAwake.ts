/** Keep the screen awake while the table is open, where the browser can. */
import { useEffect } from "react";

interface WakeLockLike {
  release: () => Promise<void>;
}

export function useAwake() {
  useEffect(() => {
    let lock: WakeLockLike | null = null;
    const ask = async () => {
      try {
        lock =
          (await (
            navigator as { wakeLock?: { request: (kind: "screen") => Promise<WakeLockLike> } }
          ).wakeLock?.request("screen")) ?? null;
      } catch {
        lock = null; // refused on low battery: nothing to do about it
      }
    };
    const seen = () => {
      if (document.visibilityState === "visible") void ask();
    };
    void ask();
    document.addEventListener("visibilitychange", seen);
    return () => {
      document.removeEventListener("visibilitychange", seen);
      void lock?.release();
    };
  }, []);
}
