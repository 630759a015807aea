import { readdir, readFile, rename, stat, writeFile } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { positions, read, type ReadError } from '@crow-lane/core/document/read';
import type { FlowDocument } from '@crow-lane/core/document/types';
import type { Output } from './output.ts';

export interface LoadedFile {
  file: string;
  document: FlowDocument;
  /** Where in the file something stands; worked out when it is first asked. */
  place: ReturnType<typeof positions>;
}

/** A longer file is no flow document: the largest that are of use are a tenth of it. In bytes. */
export const longest = 50_000_000;

/** The files that are meant: folders stand for the flow documents in them, at any depth. */
export async function filesOf(named: string[], output: Output): Promise<string[] | undefined> {
  const found: string[] = [];
  for (const name of named) {
    try {
      if (name === '-' || !(await stat(name)).isDirectory()) {
        found.push(name);
        continue;
      }
      const inside = (await readdir(name, { recursive: true })).filter(
        (file) => file.endsWith('.crow.json') && !file.split(sep).includes('node_modules')
      );
      if (inside.length === 0) {
        output.err(`${name}: there is no .crow.json file in this folder`);
        return undefined;
      }
      found.push(...inside.sort().map((file) => join(name, file)));
    } catch (error) {
      output.err(`${name}: cannot be read (${(error as NodeJS.ErrnoException).code ?? (error as Error).message})`);
      return undefined;
    }
  }
  return found;
}

function lazyPositions(text: string): ReturnType<typeof positions> {
  let known: ReturnType<typeof positions> | undefined;
  return (pointer) => (known ??= positions(text))(pointer);
}

/** The text of a file; where it cannot be read, or is too long, that is said. */
export async function textOf(file: string, output: Output): Promise<string | undefined> {
  try {
    if (file !== '-' && (await stat(file)).size > longest) {
      output.err(`${file}: is longer than ${longest / 1e6} MB, which no flow document is`);
      return undefined;
    }
    return file === '-' ? await output.input() : await readFile(file, 'utf8');
  } catch (error) {
    output.err(`${file}: cannot be read (${(error as NodeJS.ErrnoException).code ?? (error as Error).message})`);
    return undefined;
  }
}

/** Reads one file; what is wrong with it is said with line and column. */
export async function load(file: string, output: Output): Promise<LoadedFile | undefined> {
  const text = await textOf(file, output);
  const document = text === undefined ? undefined : documentIn(file, text, output);
  return document && { file, document, place: lazyPositions(text!) };
}

/** The document that a text is; what is wrong with it is said with line and column. */
export function documentIn(name: string, text: string, output: Output): FlowDocument | undefined {
  const { document, errors = [] } = read(text);
  tellErrors(name, errors, output);
  return document;
}

export function tellErrors(name: string, errors: ReadError[], output: Output): void {
  for (const { pointer, message, line, column } of errors)
    output.err(`${name}:${line ?? 1}:${column ?? 1}: ${pointer ? `${pointer} ` : ''}${message}`);
}

/** Writes a file whole or not at all: a reader never finds half of it. */
export async function replaceFile(file: string, text: string): Promise<void> {
  await writeFile(`${file}.new`, text);
  await rename(`${file}.new`, file);
}
