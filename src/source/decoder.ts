/** Decodes bytes to text, piece by piece. */
export interface Decoder {
  decode(bytes?: Uint8Array, options?: { stream?: boolean }): string
}

// Part of every platform, but not of the language's own types.
declare const TextDecoder: { new (label: string, options?: { fatal?: boolean }): Decoder }

/** A decoder of the platform; `fatal` refuses bytes that are no text. */
export function createDecoder(label: string, options: { fatal?: boolean } = {}): Decoder {
  return new TextDecoder(label, options)
}
