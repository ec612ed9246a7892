/** A picture as it comes from the core: a map of stacks and their colours (docs/formats/painting.md). */

export interface Head {
  map: string;
  picture: string;
  /** Who lies wet on whom in these colours. */
  wet: string;
  width: number;
  height: number;
  count: number;
  with_map: boolean;
  rows: number | null;
  steps?: number[];
}

export interface Part {
  /** Which stacks; null: all of them. */
  rows: Uint32Array | null;
  /** Their colours, as the canvas keeps a pixel (A B G R). */
  colours: Uint32Array;
}

export interface Unpacked {
  head: Head;
  numbers: Uint32Array | null;
  parts: Part[];
}

/** Three planes of bytes back to numbers. */
function planes(bytes: Uint8Array, at: number, count: number): Uint32Array {
  const found = new Uint32Array(count);
  for (let i = 0; i < count; i += 1) {
    found[i] =
      (bytes[at + i] ?? 0) | ((bytes[at + count + i] ?? 0) << 8) | ((bytes[at + 2 * count + i] ?? 0) << 16);
  }
  return found;
}

/** Each number from its way from the one before it, zigzag. */
function walked(ways: Uint32Array): Uint32Array {
  let last = 0;
  for (let i = 0; i < ways.length; i += 1) {
    const way = ways[i] ?? 0;
    last += way & 1 ? -((way + 1) >> 1) : way >> 1;
    ways[i] = last;
  }
  return ways;
}

/** Each number from its way forward. */
function summed(ways: Uint32Array): Uint32Array {
  let last = 0;
  for (let i = 0; i < ways.length; i += 1) {
    last += ways[i] ?? 0;
    ways[i] = last;
  }
  return ways;
}

function pixels(bytes: Uint8Array, at: number, count: number): Uint32Array {
  const found = new Uint32Array(count);
  for (let i = 0; i < count; i += 1) {
    const j = at + 3 * i;
    found[i] = (bytes[j] ?? 0) | ((bytes[j + 1] ?? 0) << 8) | ((bytes[j + 2] ?? 0) << 16) | 0xff000000;
  }
  return found;
}

export function unpack(buffer: ArrayBuffer | Uint8Array): Unpacked {
  const bytes = buffer instanceof Uint8Array ? buffer : new Uint8Array(buffer);
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))) as Head;
  let at = 4 + length;
  let numbers: Uint32Array | null = null;
  if (head.with_map) {
    const size = head.width * head.height;
    numbers = walked(planes(bytes, at, size));
    at += 3 * size;
  }
  const counts = head.steps ?? (head.rows === null ? [] : [head.rows]);
  const rows = counts.map((count) => {
    const found = summed(planes(bytes, at, count));
    at += 3 * count;
    return found;
  });
  if (!rows.length) return { head, numbers, parts: [{ rows: null, colours: pixels(bytes, at, head.count) }] };
  const parts = rows.map((which) => {
    const colours = pixels(bytes, at, which.length);
    at += 3 * which.length;
    return { rows: which, colours };
  });
  return { head, numbers, parts };
}

/** The bytes of a base64 text. */
export function fromBase64(text: string): Uint8Array {
  const plain = atob(text);
  const found = new Uint8Array(plain.length);
  for (let i = 0; i < plain.length; i += 1) found[i] = plain.charCodeAt(i);
  return found;
}
