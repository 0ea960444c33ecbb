/** Makes the key of a thing from its name: `Sailings API` becomes `sailings-api`. Never empty. */
export function keyFromName(name: string, fallback = 'check'): string {
  const key = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80)
    .replace(/-+$/g, '')
  return key === '' ? fallback : key
}

/** The key with the lowest free number behind it: `sailings-api-2` when `sailings-api` is taken. */
export function freeKey(wanted: string, isTaken: (key: string) => boolean): string {
  if (!isTaken(wanted)) return wanted
  let number = 2
  while (isTaken(`${wanted}-${number}`)) number += 1
  return `${wanted}-${number}`
}
