/**
 * The colour of a tag's mark in both themes: as chosen, made darker or lighter until it stands out from the card by 3:1
 * (WCAG 2.2, success criterion 1.4.11). Words on tags are always ink, so that any colour stays readable.
 */
export function markColours(colour: string): { day: string; night: string } {
  return { day: standOut(colour, '#ffffff'), night: standOut(colour, '#1a2227') }
}

type Rgb = [number, number, number]

const parse = (colour: string): Rgb => [1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16)) as Rgb
const write = (rgb: Rgb) => `#${rgb.map((part) => Math.round(part).toString(16).padStart(2, '0')).join('')}`

/** Relative luminance as WCAG defines it. */
export function luminance(colour: string): number {
  const [red, green, blue] = parse(colour).map((part) => {
    const share = part / 255
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
  }) as Rgb
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue
}

export function contrast(a: string, b: string): number {
  const [lighter, darker] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
  return (lighter + 0.05) / (darker + 0.05)
}

function standOut(colour: string, card: string): string {
  const towards: Rgb = luminance(card) > 0.5 ? [0, 0, 0] : [255, 255, 255]
  let mixed = parse(colour)
  for (let step = 0; step < 40 && contrast(write(mixed), card) < 3; step += 1) mixed = mixed.map((part, index) => part + (towards[index]! - part) * 0.1) as Rgb
  return write(mixed)
}
