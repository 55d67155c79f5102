import createClient, { type Middleware } from "openapi-fetch";
import createQueries from "openapi-react-query";

import type { components, ErrorOut, paths } from "../generated/api";

export type * from "../generated/api";

type Schemas = components["schemas"];
/** A plan as it is answered: an older head may have no verdicts, and then says why. */
export type PlanAnswer = Schemas["PlanOut"];
export type PlanOut = PlanAnswer & {
  document: NonNullable<PlanAnswer["document"]>;
  evaluation: NonNullable<PlanAnswer["evaluation"]>;
};
export const isJudged = (plan: PlanAnswer): plan is PlanOut =>
  plan.document !== null && plan.evaluation !== null;
export type NewPlan = Pick<Schemas["NewPlan"], "name"> & Partial<Schemas["NewPlan"]>;
export type Session = Schemas["SessionOut"];
export type Clash = Schemas["ClashOut"];
export type Trouble = NonNullable<Schemas["AskState"]["trouble"]>;
export type BuiltRow = Omit<Schemas["LayoutRow"], "layout">;
export type SmallFiles = Schemas["SmallFilesResult"];
export type CatalogueBox = NonNullable<NonNullable<PlanDocument["catalogue"]>["boxes"]>[number];
export type Standards = Schemas["StandardsOut"];
export type CatalogueList = "drives" | "boxes" | "prices";
export type Clips = Schemas["ClipsOut"];
export type Stock = Schemas["StockOut"];
export type Device = Schemas["StockItem"];
export type Material = Schemas["MaterialResult"];
export type DeviceResult = Schemas["ItemResult"];
export type Preview = Schemas["PreviewOut"];
export type LongJob = Schemas["JobOut"];
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
  await client.GET("/api/session");
  if (token === before) return answer;
  again.headers.set("X-CSRFToken", token);
  const second = await fetch(again);
  return second.status === 403 ? answer : second;
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

  /** As the envelope has it. */
  get sentence(): string {
    return this.message;
  }
}

const isEnvelope = (error: unknown): error is ErrorOut =>
  typeof error === "object" && error !== null && "sentence" in error;

/** Every answer that is no success is thrown as a {@link Failure}. */
const failing: Middleware = {
  async onResponse({ response }) {
    if (response.ok) return undefined;
    const json: unknown = await response.json().catch(() => null);
    throw new Failure(response.status, isEnvelope(json) ? json : null);
  },
  onError: ({ error }) => (error instanceof Failure ? error : new Failure(0, null)),
};

/** The token that a session is answered with goes with every change from then on. */
const keeping: Middleware = {
  async onResponse({ response, schemaPath }) {
    if (response.ok && schemaPath === "/api/session")
      token = ((await response.clone().json()) as Session).token;
  },
};

/** A body as JSON, or as a form where there are files in it. */
function serialized(body: unknown): BodyInit {
  const fields = Object.entries((body ?? {}) as Record<string, unknown>);
  const parts = fields.flatMap(([name, value]) =>
    [value].flat().map((each) => [name, each] as const),
  );
  if (!parts.some(([, value]) => value instanceof File)) return JSON.stringify(body);
  const form = new FormData();
  for (const [name, value] of parts)
    form.append(name, value instanceof File ? value : String(value));
  return form;
}

/** A file where the contract says a file's content: what is sent is the file. */
export const asContent = (file: File): string => file as unknown as string;

export const client = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? "",
  fetch: fetchWithToken,
  bodySerializer: serialized,
});
client.use(keeping, failing);

/** The same as queries and mutations, each kept under its method, address and parameters. */
export const api = createQueries(client);

/** What the session is kept under. */
export const SESSION = api.queryOptions("get", "/api/session").queryKey;

/** The data of an answer; what is no success has been thrown already. */
export async function dataOf<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}
