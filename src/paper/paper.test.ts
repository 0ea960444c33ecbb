import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { inflateSync } from 'node:zlib'
import fc from 'fast-check'
import { isWritable, linesOf, type Fonts, type Look, type Piece } from './lines'
import { markdownPdf, type PaperOptions } from './markdown-pdf'

const LOOKS: Look[] = ['plain', 'strong', 'slanted', 'code']
/** Every character as wide as one, those of bold text as one and a half. */
const widthOf = (text: string, font: string) => [...text].length * (font.startsWith('strong') ? 1.5 : 1)
const fontsHeld: Fonts = { widthOf, holds: (font, character) => (font.endsWith('-beyond') ? 'ńŁ'.includes(character) : character <= 'ÿ' || '—“”'.includes(character)) }
const plain = (text: string): Piece => ({ text, look: 'plain' })
const said = (pieces: Piece[], width: number) => linesOf(pieces, width, fontsHeld).map((line) => line.runs.map((run) => run.text).join('|'))

describe('lines', () => {
  it('break between words, and within one that is too wide', () => {
    expect(said([plain('one two three')], 7)).toEqual(['one two', 'three'])
    expect(said([plain('abcdefghij kl')], 4)).toEqual(['abcd', 'efgh', 'ij', 'kl'])
    expect(said([plain('one\ntwo')], 20)).toEqual(['one', 'two'])
  })
  it('keep together what no space stands between, in whatever look', () => {
    const lines = linesOf([plain('see '), { text: 'edge-4', look: 'code' }, plain(', now')], 11, fontsHeld)
    expect(lines.map((line) => line.runs.map((run) => [run.text, run.font]))).toEqual([[['see', 'plain'], ['edge-4', 'code'], [',', 'plain']], [['now', 'plain']]])
  })
  it('take letters that the first font has not from the second, and say what no font has', () => {
    const [line] = linesOf([plain('Gdańsk')], 20, fontsHeld)
    expect(line!.runs.map((run) => [run.text, run.font, run.x])).toEqual([['Gda', 'plain', 0], ['ń', 'plain-beyond', 3], ['sk', 'plain', 4]])
    expect(said([plain('船 ok, 1\u202f582 ms')], 20)).toEqual(['? ok, 1\u00a0582 ms'])
    expect([isWritable('Gdańsk — “ok” → no', fontsHeld), isWritable('Gdańsk? — “ok”\n1\u202f582', fontsHeld)]).toEqual([false, true])
  })
  it('hold every character but spaces, in its order, and are never too wide', () => fc.assert(fc.property(
    fc.array(fc.record({ text: fc.stringMatching(/^[a-zé ńŁ.-]{0,30}$/), look: fc.constantFrom(...LOOKS) }), { maxLength: 6 }), fc.integer({ min: 3, max: 40 }),
    (pieces, width) => {
      const lines = linesOf(pieces, width, fontsHeld)
      expect(lines.flatMap((line) => line.runs.map((run) => run.text)).join('').replaceAll(' ', '')).toBe(pieces.map((each) => each.text).join('').replaceAll(' ', ''))
      for (const line of lines) expect(line.width).toBeLessThanOrEqual(width)
    }
  )))
})

describe('paper', () => {
  const files = { plain: ['next', '400-normal'], strong: ['next', '700-normal'], slanted: ['next', '400-italic'], code: ['mono', '400-normal'] } as const
  const fonts = Object.fromEntries(Object.entries(files).flatMap(([look, [family, style]]) => ([['', 'latin'], ['-beyond', 'latin-ext']] as const).map(([suffix, letters]) =>
    [`${look}${suffix}`, readFileSync(join('node_modules/@fontsource', `atkinson-hyperlegible-${family}`, 'files', `atkinson-hyperlegible-${family}-${letters}-${style}.woff`))])))
  const picture = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==', 'base64')
  const asked: string[] = []
  const options: PaperOptions = { title: 'Tide gauge is down', fonts, madeAt: new Date(0), pictureOf: async (address) => { asked.push(address); return address === '/api/pictures/one' ? picture : undefined } }
  const made = async (text: string) => Buffer.from(await markdownPdf(text, options)).toString('latin1')
  const pages = (pdf: string) => [...pdf.matchAll(/\/Type \/Page\b/g)].length

  it('is a PDF with its title, its fonts within it, and as many pages as it takes', async () => {
    const short = await made('# Tide gauge is down\n\nFrom **Gdańsk** and `edge-4`.\n\n- [x] call\n- [ ] mend')
    expect(short).toMatch(/^%PDF-1\.\d/)
    expect(short).toContain('/Lang (en)')
    expect(short).toMatch(/\/FontFile[23]/)
    expect(pages(short)).toBe(1)
    const rows = Array.from({ length: 150 }, (_, index) => `| row ${index} | ${index} | and a text that needs more than one line of its cell |`).join('\n')
    expect(pages(await made(`# Long\n\n| What | Count | Why |\n| --- | ---: | --- |\n${rows}`))).toBeGreaterThan(3)
  })
  it('holds pictures it can get, and says which it cannot', async () => {
    const pdf = await made('# Notes\n\nbefore ![the chart](/api/pictures/one) after\n\n![elsewhere](https://status.example/x.png)')
    expect(asked).toEqual(['/api/pictures/one', 'https://status.example/x.png'])
    expect([...pdf.matchAll(/\/Subtype \/Image/g)]).toHaveLength(2)
    // the picture and its mask
    expect(pdf).toContain('/SMask')
  })
  it('links to the web and to mail, and nowhere else', async () => {
    const pdf = await made('[a](https://status.example/a) [b](mailto:ines@orrinsound.example) [c](javascript:alert(1)) <b>not bold</b>')
    expect([...pdf.matchAll(/\/URI \((.*?)\)/g)].map((each) => each[1])).toEqual(['https://status.example/a', 'mailto:ines@orrinsound.example'])
  })
  it('draws something on every page', async () => {
    const pdf = Buffer.from(await markdownPdf(Array.from({ length: 120 }, (_, index) => `Paragraph ${index}.`).join('\n\n'), options))
    const contents = [...pdf.toString('latin1').matchAll(/\/Filter \/FlateDecode\n>>\nstream\n/g)].map((each) => { try { return inflateSync(pdf.subarray(each.index + each[0].length)).toString('latin1') } catch { return '' } }).filter((each) => each.includes('BT'))
    const count = pages(pdf.toString('latin1'))
    expect(count).toBeGreaterThan(2)
    expect(contents).toHaveLength(count)
    // every paragraph, and the number of every page
    expect(contents.reduce((sum, each) => sum + [...each.matchAll(/\bBT\b/g)].length, 0)).toBe(120 + count)
  })
})
