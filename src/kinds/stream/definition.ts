import { describeKind } from '../../core/definitions/describe-kind'
import { choiceTarget, flagTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export interface StreamTarget {
  url: string
  /** Which of several qualities is followed. */
  quality: 'lowest' | 'highest'
  unverified: boolean
}

const isUrl = (text: string) => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol) && new URL(text).username === ''

export const streamDefinition = describeKind<StreamTarget>({
  kind: 'stream',
  name: 'a video stream (HLS)',
  family: 'services',
  proves: 'The playlist of a stream is valid, new segments keep coming, and they arrive faster than they play.',
  doesNotProve: 'That the picture is not black, or that players can decode it.',
  fields: {
    url: textTarget('address', { isNeeded: true, most: 2000, fits: isUrl, expected: 'an address such as https://www.example.org/live.m3u8' }), quality: choiceTarget('quality', ['lowest', 'highest'], 'highest'), unverified: flagTarget('take any certificate')
  },
  blank: { url: 'https://address.invalid/live.m3u8' },
  addressField: 'url',
  inSentence: ['url', 'quality'],
  sentence: (_target, part) => [say('Play the stream '), part('url', { look: 'code' }), say(' in its '), part('quality'), say(' quality')],
  takeAddress: (target, text) => {
    const url = /^https?:\/\//i.test(text) ? text : `https://${text}`
    return isUrl(url) ? { ...target, url } : { expected: 'an address such as https://www.example.org/live.m3u8' }
  },
  address: (target) => target.url,
  guess: (text) => (isUrl(text) && /\.m3u8($|\?)/i.test(text) ? { written: { url: text }, address: text, name: `Stream ${new URL(text).host}` } : undefined),
  requests: () => 4,
  firstConditions: (target) => [{ pace: { min: 1, warn: 1.5 } }, ...(target.url.startsWith('https:') ? [{ certificate: { min: '3d', warn: '14d' } }] : [])],
  offers: [
    { name: 'segments arrive faster than they play', written: { pace: { min: 1, warn: 1.5 } } }, { name: 'the bit rate is high enough', written: { rate: { min: 1_000_000 } } },
    { name: 'there are so many qualities', written: { qualities: { min: 2 } } }, { name: 'the newest segment is fresh', written: { age: { max: '30s', warn: '20s' } } }
  ],
  subjects: ['certificate', 'text', 'pattern'],
  lacks: ({ url }) => (String(url).startsWith('http:') ? ['certificate'] : []),
  readings: {
    pace: { unit: 'number', says: 'seconds that arrive in a second' }, rate: { unit: 'number', says: 'bit rate of the segment in bits a second' }, qualities: { unit: 'number', says: 'number of qualities' },
    segments: { unit: 'number', says: 'number of segments in the playlist' }, age: { unit: 'time', says: 'time since the newest segment was made' }
  },
  telling: ['pace'],
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive']
})
