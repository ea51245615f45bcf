/** Reading an OpenAPI document: its operations by group, and schemas as short sketches. */

export interface Schema {
  $ref?: string;
  type?: string | string[];
  enum?: unknown[];
  const?: unknown;
  items?: Schema;
  properties?: Record<string, Schema>;
  required?: string[];
  additionalProperties?: Schema | boolean;
  anyOf?: Schema[];
  allOf?: Schema[];
  oneOf?: Schema[];
  format?: string;
}

interface About {
  operationId: string;
  description?: string;
  tags?: string[];
  parameters?: {
    name: string;
    in: string;
    required?: boolean;
    description?: string;
    schema?: Schema;
  }[];
  requestBody?: { content: Record<string, { schema?: Schema }> };
  responses: Record<string, { content?: Record<string, { schema?: Schema }> }>;
}

export interface Spec {
  paths: Record<string, Record<string, About>>;
  components: { schemas: Record<string, Schema> };
}

export interface Operation {
  id: string;
  group: string;
  method: string;
  path: string;
  words: string;
  about: About;
}

const METHODS = ["get", "post", "put", "patch", "delete"];

export function operations(spec: Spec): Operation[] {
  return Object.entries(spec.paths).flatMap(([path, methods]) =>
    METHODS.flatMap((method) => {
      const about = methods[method];
      if (!about) return [];
      return {
        id: about.operationId,
        group: about.tags?.[0] ?? "others",
        method: method.toUpperCase(),
        path,
        words: about.description?.split("\n")[0] ?? "",
        about,
      };
    }),
  );
}

const DEEPEST = 3;

/** Write a schema as its shape: members with their types, optional ones with a question mark. */
export function sketch(spec: Spec, schema: Schema, indent = "", depth = 0): string {
  const name = schema.$ref?.split("/").at(-1) ?? "";
  if (name) {
    const meant = spec.components.schemas[name];
    return meant && depth < DEEPEST ? sketch(spec, meant, indent, depth) : name;
  }
  const options =
    schema.anyOf ?? schema.oneOf ?? (schema.allOf?.length === 1 ? schema.allOf : null);
  if (options) return options.map((one) => sketch(spec, one, indent, depth)).join(" | ");
  if (schema.enum) return schema.enum.map((one) => JSON.stringify(one)).join(" | ");
  if ("const" in schema) return JSON.stringify(schema.const);
  if (schema.items) return `[${sketch(spec, schema.items, indent, depth)}]`;
  if (schema.properties) {
    if (depth >= DEEPEST) return "{…}";
    const inner = `${indent}  `;
    const lines = Object.entries(schema.properties).map(
      ([key, value]) =>
        `${inner}${key}${schema.required?.includes(key) ? "" : "?"}: ${sketch(spec, value, inner, depth + 1)}`,
    );
    return `{\n${lines.join("\n")}\n${indent}}`;
  }
  if (typeof schema.additionalProperties === "object")
    return `{…: ${sketch(spec, schema.additionalProperties, indent, depth)}}`;
  const type = Array.isArray(schema.type) ? schema.type.join(" | ") : (schema.type ?? "any");
  return schema.format ? `${type} (${schema.format})` : type;
}
