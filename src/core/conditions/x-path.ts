import { DOMParser, type Document, type Node } from '@xmldom/xmldom'
import xpath from 'xpath'

/** The largest XML that conditions look into, in characters. */
export const XML_LIMIT = 2_000_000

/** Reads an XPath 1.0 expression; returns what is wrong with it, or undefined. */
export function xPathProblem(path: string): string | undefined {
  try {
    (xpath as unknown as { parse: (path: string) => unknown }).parse(path)
    return undefined
  } catch (error) {
    return error instanceof Error ? error.message : 'not an XPath'
  }
}

/** Parses XML; throws when it is none. Nothing outside the text is ever fetched, and entities of the document's own are not expanded. */
export function parseXml(text: string): Document {
  return new DOMParser({
    onError: (level, message) => {
      if (level !== 'warning') throw new Error(message)
    }
  }).parseFromString(text, 'text/xml')
}

/**
 * The values an XPath 1.0 expression finds: texts of nodes, or the one number, text or truth it comes to. Prefixes are those
 * that the document declares.
 */
export function xmlValues(path: string, document: Document): (string | number | boolean)[] {
  const namespaces: Record<string, string> = {}
  gather(document.documentElement as unknown as Element | null, namespaces, 0)
  const found = xpath.useNamespaces(namespaces)(path, document as never) as unknown
  if (!Array.isArray(found)) return [found as string | number | boolean]
  return (found as Node[]).map((node) => node.nodeValue ?? node.textContent ?? '')
}

interface Element {
  attributes: { length: number; item: (index: number) => { name: string; value: string } | null }
  childNodes: { length: number; item: (index: number) => unknown }
}

/** Prefixes as the document declares them; the outermost one counts. */
function gather(element: Element | null, namespaces: Record<string, string>, depth: number): void {
  if (!element?.attributes || depth > 40) return
  for (let index = 0; index < element.attributes.length; index += 1) {
    const { name, value } = element.attributes.item(index)!
    if (name.startsWith('xmlns:')) namespaces[name.slice(6)] ??= value
  }
  for (let index = 0; index < element.childNodes.length; index += 1) gather(element.childNodes.item(index) as Element, namespaces, depth + 1)
}
