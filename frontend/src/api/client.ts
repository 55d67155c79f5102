import createClient from "openapi-fetch";

import type { components, paths } from "../generated/api";

type Schemas = components["schemas"];
/** A plan as it is answered: an older head may have no verdicts, and then says why. */
export type PlanAnswer = Schemas["PlanOut"];
export type PlanOut = PlanAnswer & {
  document: NonNullable<PlanAnswer["document"]>;
  evaluation: NonNullable<PlanAnswer["evaluation"]>;
};
export const isJudged = (plan: PlanAnswer): plan is PlanOut =>
  plan.document !== null && plan.evaluation !== null;
export type PlanRow = Schemas["PlanRow"];
export type Session = Schemas["SessionOut"];
export type Evaluation = Schemas["Evaluation"];
export type Operation = Schemas["Operation"];
export type Problem = Schemas["Problem"];
export type ErrorOut = Schemas["ErrorOut"];
export type Clash = Schemas["ClashOut"];
export type Explanation = Schemas["Explanation"];
export type Term = Schemas["Term"];
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
export type StockChange = Schemas["StockChange"];
export type PlanDocument = PlanOut["document"];

let token = "";

/** Every request that changes something carries the session's token; a stale one is renewed once. */
async function fetchWithToken(request: Request): Promise<Response> {
  if (request.method === "GET") return fetch(request);
  const again = request.clone();
  request.headers.set("X-CSRFToken", token);
  const answer = await fetch(request);
  if (answer.status !== 403 || request.url.endsWith("/api/session")) return answer;
  const before = token;
  await sessionOf(client.GET("/api/session"));
  if (token === before) return answer;
  again.headers.set("X-CSRFToken", token);
  const second = await fetch(again);
  return second.status === 403 ? answer : second;
}

export const client = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? "",
  fetch: fetchWithToken,
});

/** A session as it is answered; its token goes with every change from then on. */
export async function sessionOf(answer: Promise<Answered<Session>>): Promise<Session> {
  const session = await dataOf(answer);
  token = session.token;
  return session;
}

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
  const request = new Request(new URL(url, globalThis.location.origin), {
    method: "POST",
    body: form,
  });
  const answer = fetchWithToken(request).then(async (response) => {
    const json: unknown = await response.json().catch(() => undefined);
    return response.ok ? { data: json as T, response } : { error: json, response };
  });
  return dataOf<T>(answer);
}
