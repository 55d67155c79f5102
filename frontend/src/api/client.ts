import createClient, { type Middleware } from "openapi-fetch";

import type { components, paths } from "../generated/api";

type Schemas = components["schemas"];
export type PlanOut = Schemas["PlanOut"];
export type PlanRow = Schemas["PlanRow"];
export type Session = Schemas["SessionOut"];
export type Evaluation = Schemas["Evaluation"];
export type Operation = Schemas["Operation"];
export type Problem = Schemas["Problem"];
export type ErrorOut = Schemas["ErrorOut"];
export type Clash = Schemas["ClashOut"];
export type Explanation = Schemas["Explanation"];
export type RevisionRow = Schemas["RevisionRow"];
export type Finding = Schemas["Finding"];
export type Scale = Schemas["Scale"];
export type PoolResult = Schemas["PoolResult"];
export type HopResult = Schemas["HopResult"];
export type AskPool = Schemas["AskPool"];
export type BuiltRow = Omit<Schemas["LayoutRow"], "layout">;
export type SmallFiles = Schemas["SmallFilesResult"];
export type CatalogueBox = NonNullable<NonNullable<PlanDocument["catalogue"]>["boxes"]>[number];
export type Standards = Schemas["StandardsOut"];
export type CatalogueList = "drives" | "boxes" | "prices";
export type Clips = Schemas["ClipsOut"];
export type Stock = Schemas["StockOut"];
export type HandOver = Schemas["HandOver"];
export type Device = Schemas["StockItem"];
export type Material = Schemas["MaterialResult"];
export type DeviceResult = Schemas["ItemResult"];
export type Preview = Schemas["PreviewOut"];
export type PlanDocument = PlanOut["document"];

const cookieToken = (): string | undefined =>
  /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1];

/** Every request that changes something carries the token of Django's own cookie. */
const forgeryToken: Middleware = {
  onRequest({ request }) {
    const token = cookieToken();
    if (token && request.method !== "GET") request.headers.set("X-CSRFToken", token);
    return request;
  },
};

export const client = createClient<paths>({ baseUrl: globalThis.location?.origin ?? "" });
client.use(forgeryToken);

const UNREACHABLE = "The server cannot be reached; what you typed is kept here.";
const FAULT = "The server could not answer; what you typed is kept here. Its log says why.";

/** An answer that is not a success, with the server's envelope where there was one. */
export class Failure extends Error {
  constructor(
    readonly status: number,
    readonly envelope: ErrorOut | null,
  ) {
    super(envelope?.sentence ?? (status ? FAULT : UNREACHABLE));
  }
}

interface Answered<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or a {@link Failure}. */
export async function dataOf<T>(answer: Promise<Answered<T>>): Promise<T> {
  let settled: Answered<T>;
  try {
    settled = await answer;
  } catch {
    throw new Failure(0, null);
  }
  if (settled.response.ok) return settled.data as T;
  throw new Failure(settled.response.status, isEnvelope(settled.error) ? settled.error : null);
}

const isEnvelope = (error: unknown): error is ErrorOut =>
  typeof error === "object" && error !== null && "sentence" in error;

/** A file, and what is said of it, for an endpoint that takes one. */
export const sendFile = <T>(
  url: string,
  file: File,
  fields: Record<string, string> = {},
): Promise<T> => sendFiles<T>(url, [file], fields);

/** Several files at once. */
export async function sendFiles<T>(
  url: string,
  files: readonly File[],
  fields: Record<string, string> = {},
): Promise<T> {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) form.set(name, value);
  for (const file of files) form.append("file", file);
  const headers = { "X-CSRFToken": cookieToken() ?? "" };
  const answer = fetch(url, { method: "POST", body: form, headers }).then(async (response) => {
    const json: unknown = await response.json().catch(() => undefined);
    return response.ok ? { data: json as T, response } : { error: json, response };
  });
  return dataOf<T>(answer);
}
