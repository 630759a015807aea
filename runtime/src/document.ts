/** Flow documents: reading them with all errors, writing them, and making games of them. */
export { read, type ReadError, type ReadResult } from '@crow-lane/core/document/read';
export { write } from '@crow-lane/core/document/write';
export type { FlowDocument } from '@crow-lane/core/document/types';
export { gameOf, type GameFile } from '@crow-lane/core/formats/game';
