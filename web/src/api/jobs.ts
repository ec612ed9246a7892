/** Work in the background, as the server tells of it. */
import type { Schemas } from "./client";

export type Job = Schemas["Job"];

const OPEN = ["queued", "running"];

/** Whether a job waits or works, so that it is worth looking again. */
export const underWay = (job: Job | null | undefined): boolean => OPEN.includes(job?.state ?? "");
