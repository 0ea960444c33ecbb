/** Items by a key of each, in their order. */
export function groupBy<Item, Key>(items: Iterable<Item>, keyOf: (item: Item) => Key): Map<Key, Item[]> {
  const groups = new Map<Key, Item[]>()
  for (const item of items) {
    const own = groups.get(keyOf(item))
    if (own) own.push(item)
    else groups.set(keyOf(item), [item])
  }
  return groups
}
