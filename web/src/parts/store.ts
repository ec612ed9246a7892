/** A small store outside React: one snapshot, replaced whole at each change. */
export class Store<T> {
  private listeners = new Set<() => void>();

  constructor(private current: T) {}

  readonly snapshot = (): T => this.current;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  protected set(change: Partial<T>): void {
    this.current = { ...this.current, ...change };
    for (const listener of this.listeners) listener();
  }
}

/** JSON kept in this browser, or the fallback when there is none or it is damaged. */
export function kept<T>(key: string, fallback: T): T {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null") ?? fallback;
  } catch {
    return fallback;
  }
}

/** Keep JSON in this browser; false where it has no room for it. */
export function keep(key: string, value: unknown): boolean {
  try {
    localStorage.setItem(key, JSON.stringify(value));
    return true;
  } catch {
    return false;
  }
}
