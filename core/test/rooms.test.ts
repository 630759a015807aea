/** How the rooms of the house stand to each other: which file may know which. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { expect } from 'chai';

const root = join(__dirname, '../..');

/** By file what it imports of ours, types too. */
function importsIn(folder: string, ending: RegExp): Map<string, string[]> {
  const files = readdirSync(join(root, folder), { recursive: true })
    .map((file) => join(root, folder, String(file)))
    .filter((file) => ending.test(file));
  return new Map(
    files.map((file) => {
      const named = [...readFileSync(file, 'utf8').matchAll(/(?:from|import\()\s*'([^']+)'/g)].map(([, name]) => name!);
      const own = named.flatMap((name) => {
        if (name.startsWith('.')) return [resolve(dirname(file), name)];
        if (name.startsWith('$lib/')) return [join(root, 'web/src/lib', name.slice('$lib/'.length))];
        return [];
      });
      return [file, own];
    })
  );
}

/** A circle of files, each importing the next; undefined where there is none. */
function circleIn(imports: Map<string, string[]>): string[] | undefined {
  const done = new Set<string>();
  const visit = (file: string, way: string[]): string[] | undefined => {
    if (way.includes(file)) return [...way.slice(way.indexOf(file)), file];
    if (done.has(file)) return undefined;
    for (const next of imports.get(file) ?? []) {
      const found = visit(next, [...way, file]);
      if (found) return found;
    }
    done.add(file);
    return undefined;
  };
  for (const file of imports.keys()) {
    const found = visit(file, []);
    if (found) return found.map((each) => relative(root, each));
  }
  return undefined;
}

describe('the rooms of the house', () => {
  const core = importsIn('core/src', /\.ts$/);

  it('have no circle of files', () => {
    expect(core.size).to.be.greaterThan(100);
    expect(circleIn(core)).to.equal(undefined);
    expect(
      circleIn(
        new Map(
          [
            ['a', ['b']],
            ['b', ['c']],
            ['c', ['b']]
          ].map(([file, to]) => [file as string, to as string[]])
        )
      )
    ).to.have.length(3);
  });

  it('stand one above the other', () => {
    const roomOf = (file: string) => relative(join(root, 'core/src'), dirname(file)).replaceAll('\\', '/');
    /** Each may use those before it; the types of the document are everybody's. */
    const above = [
      'language',
      'vocabulary',
      'graph',
      'plan',
      'document',
      'document/edits',
      'play',
      'times',
      'report',
      'words',
      'lane',
      'sheet',
      'explore',
      'explore/packed',
      'check',
      'trial',
      'repair',
      'causes',
      'formats'
    ];
    for (const [file, imports] of core)
      for (const other of imports) {
        const [here, there] = [roomOf(file), roomOf(other)];
        if (here === there || /\/document\/(types|ids)\.ts$/.test(other)) continue;
        expect(above.indexOf(there), `${relative(root, file)} uses ${relative(root, other)}`).to.be.within(
          0,
          above.indexOf(here) - 1
        );
      }
  });

  it('let no view know another, nor the open flow or the parts any view', () => {
    const lib = join(root, 'web/src/lib');
    const roomOf = (file: string) => relative(lib, file).replaceAll('\\', '/').split('/')[0]!;
    const views = ['lane', 'desk', 'levels', 'values', 'trial', 'checks', 'plan', 'tour', 'shelf'];
    const web = importsIn('web/src/lib', /\.(ts|svelte)$/);
    expect(web.size).to.be.greaterThan(80);
    for (const [file, imports] of web) {
      if (![...views, 'flow', 'parts'].includes(roomOf(file))) continue;
      for (const other of imports)
        expect(
          roomOf(other) === roomOf(file) || !views.includes(roomOf(other)),
          `${relative(root, file)} uses ${relative(root, other)}`
        ).to.equal(true);
    }
  });
});
