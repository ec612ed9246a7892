/** The one client: typed by the schema, with the CSRF token read afresh at each request. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type State = Schemas["State"];
export type Rung = Schemas["Rung"];
export type Element = Schemas["Element"];
export type Finding = Schemas["Finding"];
export type Mend = Schemas["Mend"];
export type Step = Schemas["Step"];
export type Head = Schemas["Head"];
export type Ink = Schemas["Ink"];
export type Stock = Schemas["Stock"];
export type LayerSet = Schemas["Set"];
export type SetSummary = Schemas["SetSummary"];
export type Group = Schemas["Group"];
export type Sheet = Schemas["Sheet"];
export type Shape = Schemas["Shape"];
export type Measures = Schemas["Measures"];
export type Import = Schemas["Import"];
export type UnderWay = Schemas["UnderWay"];
export type TracedSheet = Schemas["TracedSheet"];
export type Recipe = Schemas["Recipe"];
export type Gap = Schemas["Gap"];
export type Opened = Schemas["Opened"];
export type Tool = Schemas["Tool"];
export type Readings = Schemas["Readings"];
export type StandIn = Schemas["StandIn"];
export type SwatchCard = Schemas["SwatchCard"];
export type CardField = Schemas["CardField"];
export type InkImport = Schemas["InkImport"];
export type NewSwatch = Schemas["NewSwatchRequest"];
export type Recipes = Schemas["Recipes"];
export type Wanted = Schemas["WantedRequest"];
export type SetEditKind = Schemas["SetEditRequest"]["kind"];
export type Colour = Schemas["Colour"];
export type BuildSummary = Schemas["BuildSummary"];
export type EveningOfWork = Schemas["Evening"];
export type Finish = Schemas["Finish"];
export type FinishValues = Schemas["FinishValues"];
export type Rate = Schemas["Rate"];
export type RecordSummary = Schemas["RecordSummary"];
export type MadeCard = Schemas["Record"];
export type PhotographRead = Schemas["PhotographReading"];
export type ElementFound = Schemas["ElementFound"];
export type SharedPlan = Schemas["Shared"];
export type House = Schemas["House"];
export type AccountCarried = Schemas["AccountCarry"];
export type LessonFound = Schemas["Lesson"];
export type Table = Schemas["Table"];
export type TableStep = Schemas["TableStep"];
export type TableCard = Schemas["Card"];
export type Inked = Schemas["Inked"];
export type Wrong = Schemas["Wrong"];
export type Remedy = Schemas["Remedy"];
export type Form = Schemas["Form"];
export type EditKind = Schemas["EditRequest"]["kind"];
export type Laid = Schemas["Laid"];
export type LaidSheet = Schemas["LaidSheet"];
export type Thing = Schemas["Thing"];
export type Format = Schemas["Format"];
export type Bed = Schemas["Bed"];
export type Proposal = Schemas["Proposal"];
export type OrderOfWork = Schemas["Order"];
export type Visit = Schemas["Visit"];

/** What the server refused, in its own sentence; `status` 0 means it could not be reached. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly field: string | null = null,
    readonly revision: number | null = null,
  ) {
    super(sentence);
  }

  /**
   * Whether the same change may well be taken later: the workshop does not
   * answer, nobody is signed in any more, the disk is full, a fault of ours.
   * What was not kept then stays here and is sent again.
   */
  get waits(): boolean {
    return (
      this.status === 0 ||
      this.status === 401 ||
      this.status === 403 ||
      this.status === 429 ||
      this.status >= 500
    );
  }
}

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((c) => c.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

async function send(request: Request): Promise<Response> {
  try {
    return await fetch(request);
  } catch {
    throw new Refusal(0, "offline", "The workshop computer does not answer.");
  }
}

/**
 * How long what waits here meanwhile is given for an answer.
 *
 * A network that is lost without a word keeps a request open for minutes; sending the same again does no harm.
 */
export const forAWhile = (): AbortSignal => AbortSignal.timeout(20_000);

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: send });

api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return undefined;
    let body: { code?: string; sentence?: string; field?: string | null; revision?: number } = {};
    try {
      body = await response.clone().json();
    } catch {
      // an answer that is not ours: a proxy's page, or nothing
    }
    const unreachable = response.status >= 502 && response.status <= 504;
    throw new Refusal(
      unreachable ? 0 : response.status,
      body.code ?? "failed",
      body.sentence ?? "Something went wrong on our side. What you had is kept; try again.",
      body.field ?? null,
      body.revision ?? null,
    );
  },
});

/** The data of an answer that can only be ok here: refusals are thrown before. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

/** Send a form with a file; multipart bodies are built by the browser. */
export async function upload<T>(path: string, form: FormData): Promise<T> {
  const headers = { "X-CSRFToken": cookie("csrftoken") };
  const response = await send(new Request(path, { method: "POST", body: form, headers }));
  const body = await response.json().catch(() => ({}));
  if (!response.ok) {
    throw new Refusal(
      response.status,
      body.code ?? "failed",
      body.sentence ?? "That file could not be brought in.",
      body.field ?? null,
    );
  }
  return body as T;
}

/** Send one file, with what is said beside it. */
export function uploadFile<T>(
  path: string,
  file: Blob,
  name?: string,
  more?: Record<string, string>,
): Promise<T> {
  const form = new FormData();
  form.append("file", file, name ?? (file instanceof File ? file.name : "file"));
  for (const [key, value] of Object.entries(more ?? {})) form.append(key, value);
  return upload<T>(path, form);
}

/** Bytes from the core: a picture as map and palettes. With a body it is sent as a question. */
export async function binary(path: string, body?: unknown): Promise<ArrayBuffer> {
  const headers: Record<string, string> = { "X-CSRFToken": cookie("csrftoken") };
  if (body !== undefined) headers["Content-Type"] = "application/json";
  const asked = body === undefined ? { headers } : { method: "POST", headers, body: JSON.stringify(body) };
  const response = await send(new Request(new URL(path, window.location.origin), asked));
  if (!response.ok) {
    const told = await response.json().catch(() => ({}));
    throw new Refusal(response.status, told.code ?? "failed", told.sentence ?? "The picture did not come.");
  }
  return response.arrayBuffer();
}

/** The address of a colouring's picture; `after` counts the passes done. */
export function pictureUrl(id: number, key: string, width: number, after?: number, wet = false): string {
  const steps = after === undefined ? "" : `&after=${after}`;
  return `/api/colourings/${id}/picture?width=${width}${steps}${wet ? "&wet=1" : ""}&v=${key}`;
}
