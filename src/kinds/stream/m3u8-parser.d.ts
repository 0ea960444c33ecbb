declare module 'm3u8-parser' {
  interface Segment {
    uri: string
    duration: number
    dateTimeObject?: Date
  }
  interface Manifest {
    playlists?: { uri: string; attributes?: { BANDWIDTH?: number; RESOLUTION?: { width: number; height: number } } }[]
    segments: Segment[]
    targetDuration?: number
    mediaSequence?: number
    endList?: boolean
  }
  export class Parser {
    manifest: Manifest
    push(text: string): void
    end(): void
  }
}
