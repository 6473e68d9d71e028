// What the core takes of the platform beside the language itself: the same in a page, a worker and Node.
declare class TextEncoder {
  encode(text?: string): Uint8Array;
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(bytes?: Uint8Array | ArrayBuffer, options?: { stream?: boolean }): string;
}
declare const performance: { now(): number };
