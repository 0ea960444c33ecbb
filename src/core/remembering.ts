/**
 * Makes a function that makes the same thing of the same key only once. When it remembers as many as it may, it begins
 * anew.
 */
export function remembering<Key, Value>(most: number, make: (key: Key) => Value): (key: Key) => Value {
  const known = new Map<Key, Value>()
  return (key) => {
    if (known.has(key)) return known.get(key)!
    const made = make(key)
    if (known.size >= most) known.clear()
    known.set(key, made)
    return made
  }
}
