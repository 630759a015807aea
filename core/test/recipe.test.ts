/**
 * The recipe for a new trigger (docs/recipes.md), followed: with all of its changes the sources compile, and without any
 * one of them they do not. What is added is a thing that can be done to pieces, `wind`.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import ts from 'typescript';
import { long } from './support/everyday.ts';

const root = join(__dirname, '../..');
const changes: Record<string, [string, string][]> = {
  'core/src/document/types.ts': [['export type Deed = ', 'export type Deed = { wind: Id } | ']],
  'core/src/vocabulary/triggers.ts': [
    [
      '> = {\n  touch: {',
      `> = {
  wind: {
    done: 'wound up',
    label: 'something is wound up',
    to: { pickup: false, foe: false, player: false, hazard: false, exit: false, checkpoint: false, switch: true, other: true },
    makes: 'switch'
  },
  touch: {`
    ],
    ["  collect: done('collect'),", "  collect: done('collect'),\n  wind: done('wind'),"],
    ["  collect: doing('collect'),", "  collect: doing('collect'),\n  wind: doing('wind'),"]
  ],
  'core/src/play/events.ts': [['  touch: (_, someoneUp) => someoneUp,', '  touch: (_, up) => up,\n  wind: (_, up) => up,']],
  'core/src/play/handle.ts': [
    [
      '  touch(turn, event) {',
      "  wind: (turn, { wind }) => void read(turn, turn.listening('wind', (when) => when.wind === wind)),\n  touch(turn, event) {"
    ]
  ],
  'core/src/explore/packed/happenings.ts': [
    ['  touch: { takes: false,', '  wind: { takes: false, needsPlayer: () => true },\n  touch: { takes: false,']
  ]
};

/** The errors of the sources with some files changed, or of some of them. */
function compiler() {
  const config = join(root, 'core/tsconfig.json');
  const { options, fileNames } = ts.parseJsonConfigFileContent(
    ts.readConfigFile(config, (file) => readFileSync(file, 'utf8')).config,
    ts.sys,
    join(root, 'core')
  );
  const host = ts.createCompilerHost({ ...options, noEmit: true });
  const read = host.getSourceFile.bind(host);
  const known = new Map<string, ts.SourceFile | undefined>();
  let before: ts.Program | undefined;
  return (changed: Map<string, string>, only?: string[]): string[] => {
    host.getSourceFile = (file, ...rest) => {
      const text = changed.get(file);
      if (text !== undefined) return ts.createSourceFile(file, text, rest[0]);
      if (!known.has(file)) known.set(file, read(file, ...rest));
      return known.get(file);
    };
    before = ts.createProgram(fileNames, { ...options, noEmit: true }, host, before);
    const program = before;
    const found = only
      ? only.flatMap((file) => program.getSemanticDiagnostics(program.getSourceFile(file)))
      : program.getSemanticDiagnostics();
    return found.map(({ file, messageText }) => `${file?.fileName}: ${ts.flattenDiagnosticMessageText(messageText, ' ')}`);
  };
}

describe('the recipe for a new trigger', function () {
  // every file is compiled
  this.timeout(300_000);

  const texts = Object.entries(changes).map(([file, edits]) => {
    let text = readFileSync(join(root, file), 'utf8');
    for (const [from, to] of edits) {
      expect(text.split(from).length, `${file} has once: ${from}`).to.equal(2);
      text = text.replace(from, to);
    }
    return [join(root, file), text] as const;
  });
  const errors = compiler();

  long(`touches ${texts.length} source files, and compiles`, () => {
    expect(texts.length).to.be.at.most(6);
    expect(errors(new Map(texts))).to.deep.equal([]);
  });

  for (const [left] of texts)
    long(`does not compile without ${left.slice(root.length + 1)}`, () => {
      const others = new Map(texts.filter(([file]) => file !== left));
      expect(
        errors(
          others,
          texts.map(([file]) => file)
        )
      ).not.to.deep.equal([]);
    });
});
