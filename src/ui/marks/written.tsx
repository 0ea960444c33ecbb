import Markdown from 'react-markdown'
import remarkGfm from 'remark-gfm'

/** Text that somebody wrote in Markdown. HTML in it stays text, links go to http, https and mail only, and pictures are shown from this address alone. */
export function Written({ text }: { text: string }) {
  return <Markdown skipHtml={false} remarkPlugins={[remarkGfm]} components={{ input: ({ checked }) => <input type="checkbox" checked={checked === true} readOnly disabled aria-label={checked === true ? 'done' : 'to be done'} />, a: ({ href, children }) => <a href={href} rel="noreferrer nofollow">{children}</a>, img: ({ src, alt }) => (typeof src === 'string' && /^(\/|data:image\/(png|jpeg|gif|webp);)/.test(src) ? <img src={src} alt={alt ?? ''} style={{ maxWidth: '100%' }} /> : <span className="quiet">[picture: {alt}]</span>) }}>{text}</Markdown>
}
