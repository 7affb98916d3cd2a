/** A part of a long list as the service gives it. */
export interface Part<T> {
  items: T[];
  next?: string | null;
}

/** The first `wanted` items of a long list and whether there are more, asked for in parts. */
export async function upTo<T>(
  wanted: number,
  ask: (cursor: { cursor?: string }) => Promise<Part<T>>,
): Promise<{ items: T[]; more: boolean }> {
  const items: T[] = [];
  let part = await ask({});
  items.push(...part.items);
  while (part.next && items.length < wanted) {
    part = await ask({ cursor: part.next });
    items.push(...part.items);
  }
  return { items, more: !!part.next };
}
