/** One way to the service: JSON in and out, CSRF on writes, problem documents as errors. */

export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly remedy: string,
    readonly requestId = "",
  ) {
    super(message);
  }
}

interface Options {
  body?: unknown;
  headers?: Record<string, string>;
}

function csrf(): string {
  return /(?:^|; )tallshelf_csrf=([^;]*)/.exec(document.cookie)?.[1] ?? "";
}

export async function call<Result>(
  method: string,
  path: string,
  { body, headers = {} }: Options = {},
): Promise<Result> {
  const sent: Record<string, string> = { Accept: "application/json", ...headers };
  if (body !== undefined) sent["Content-Type"] = "application/json";
  if (method !== "GET") sent["X-CSRFToken"] = csrf();
  if (method === "POST") sent["Idempotency-Key"] = newKey();
  let answer: Response;
  try {
    answer = await fetch(`/api/v1/${path}`, {
      method,
      headers: sent,
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  } catch {
    throw new Problem(0, "The service does not answer.", "Check that it runs, then try again.");
  }
  if (answer.status === 204) return undefined as Result;
  const text = await answer.text();
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Problem(
      answer.status,
      `The service answered with HTTP ${answer.status}.`,
      "Try again; if it stays so, tell a steward.",
    );
  }
  if (!answer.ok) {
    const problem = value as Record<
      "detail" | "title" | "remedy" | "request_id",
      string | undefined
    >;
    const message = problem.detail ?? problem.title ?? `HTTP ${answer.status}`;
    throw new Problem(
      answer.status,
      sentence(message),
      problem.remedy ?? "",
      answer.status >= 500 ? problem.request_id : "",
    );
  }
  return value as Result;
}

function newKey(): string {
  // crypto.randomUUID is there on https and localhost only.
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (one) =>
    one.toString(16).padStart(2, "0"),
  ).join("");
}

function sentence(text: string): string {
  const capital = text.charAt(0).toUpperCase() + text.slice(1);
  return /[.!?]$/.test(capital) ? capital : `${capital}.`;
}

export const get = <Result>(path: string) => call<Result>("GET", path);
export const post = <Result>(path: string, body: unknown = {}) =>
  call<Result>("POST", path, { body });
