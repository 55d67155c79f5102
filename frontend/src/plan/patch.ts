/** Patches on the plan document, the same three operations as the core's: set, add, remove by item id. */

import type { Operation } from "../api/client";

type Json = unknown;
type Item = { id: string } & Record<string, Json>;

const isItems = (node: Json): node is Item[] => Array.isArray(node);

/** What stands at a path, or undefined. */
export function valueAt(document: Json, path: string): Json {
  return path.split("/").reduce<Json>((node, part) => {
    if (isItems(node)) return node.find((item) => item.id === part);
    return node && typeof node === "object" ? (node as Record<string, Json>)[part] : undefined;
  }, document);
}

/** The document with the operations applied; a path that leads nowhere is left out. */
export function applied<T>(document: T, operations: readonly Operation[]): T {
  return operations.reduce<T>((node, op) => at(node, op.path.split("/"), op) as T, document);
}

const isPlain = (value: Json): boolean => value === null || typeof value !== "object";
const hasId = (value: Json): value is Item =>
  !isPlain(value) && typeof (value as Partial<Item>).id === "string";

function at(node: Json, parts: string[], op: Operation): Json {
  const [key = "", ...rest] = parts;
  if (Array.isArray(node)) {
    const index = node.findIndex((item: Item) => item.id === key);
    if (index < 0) return node;
    if (rest.length) return node.with(index, at(node[index], rest, op));
    if (op.op === "remove") return node.toSpliced(index, 1);
    if (op.op !== "set" || isPlain(op.value)) return node;
    return node.with(index, { ...(op.value as Item), id: key });
  }
  if (!node || typeof node !== "object" || !(key in node)) return node;
  const record = node as Record<string, Json>;
  const present = record[key];
  if (rest.length) return { ...record, [key]: at(present, rest, op) };
  if (op.op === "add" && Array.isArray(present) && hasId(op.value))
    return { ...record, [key]: present.toSpliced(op.at ?? present.length, 0, op.value) };
  if (op.op === "set" && isPlain(present) && isPlain(op.value))
    return { ...record, [key]: op.value };
  return node;
}

/** Operations with one more: a field set again replaces its earlier value, an item removed takes its changes along. */
export function withOperation(operations: readonly Operation[], next: Operation): Operation[] {
  if (next.op === "set") {
    return [...operations.filter((op) => !(op.op === "set" && op.path === next.path)), next];
  }
  if (next.op === "remove") {
    const kept = operations.filter(
      (op) => !(op.op === "set" && op.path.startsWith(`${next.path}/`)),
    );
    const isAdded = (op: Operation) =>
      op.op === "add" && `${op.path}/${(op.value as Item).id}` === next.path;
    return kept.some(isAdded) ? kept.filter((op) => !isAdded(op)) : [...kept, next];
  }
  return [...operations, next];
}
