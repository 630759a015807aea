import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { flowFormatNames, flowFormats } from '@crow-lane/core/formats/flow-list';
import { reportFormatNames, reportFormats } from '@crow-lane/core/formats/report-list';
import { severities } from '@crow-lane/core/report/report';
import { expect } from 'chai';
import { closing, usages } from '../../../cli/src/output.ts';
import { pages } from '../../src/lib/help.ts';

const root = join(__dirname, '../../..');
const text = (file: string) => readFileSync(join(root, file), 'utf8');
const inDocs = readdirSync(join(root, 'docs'), { recursive: true }).map(String);
const documents = ['README.md', ...inDocs.filter((file) => file.endsWith('.md')).map((file) => `docs/${file}`)];

describe('the docs', () => {
  it('link only to what is there', () => {
    for (const document of documents)
      for (const [, target] of text(document).matchAll(/\]\((?!https?:)([^)#\s]+)(?:#[^)]*)?\)/g))
        expect(existsSync(join(root, dirname(document), target!)), `${target} in ${document}`).to.equal(true);
  });

  it('show every picture of a view, and fewer than twenty', () => {
    const pictures = inDocs.filter((file) => file.endsWith('.png'));
    expect(pictures.length).to.be.lessThan(20);
    for (const picture of pictures) expect(text('README.md'), picture).to.include(`docs/${picture}`);
  });

  it('tell of every check with its severity, once', () => {
    const rows = text('docs/checks.md')
      .split('\n')
      .filter((line) => line.startsWith('| `'));
    for (const [name, severity] of Object.entries(severities)) {
      const found = rows.filter((row) => row.split('|')[1]!.includes(`\`${name}\``));
      expect(found, name).to.have.length(1);
      expect(found[0], name).to.include(`(${severity})`);
    }
  });

  it('tell of every option of the command line', () => {
    const manual = text('docs/manual/command-line.md');
    for (const [option] of [...Object.values(usages), closing].join('\n').matchAll(/--[a-z]+/g))
      if (option !== '--json') expect(manual, option).to.include(option);
  });

  it('tell of every form of a report, and of no other', () => {
    const manual = text('docs/manual/command-line.md');
    for (const name of reportFormatNames) expect(manual, name).to.include(name);
    const asked = JSON.parse(text('docs/openapi.json')) as {
      paths: Record<
        string,
        Record<
          string,
          { parameters: { name: string; schema: { enum?: string[] } }[]; responses: Record<string, { content: object }> }
        >
      >;
    };
    const { parameters, responses } = asked.paths['/api/flows/{id}/report']!.get!;
    expect(parameters.find(({ name }) => name === 'format')!.schema.enum).to.have.members(reportFormatNames);
    const types = Object.values(reportFormats).map(({ type }) => type.split(';')[0]!);
    expect(Object.keys(responses['200']!.content)).to.have.members(types);
  });

  it('tell of every form of a flow, and of no other', () => {
    const manual = text('docs/manual/command-line.md');
    for (const name of flowFormatNames) expect(manual, name).to.include(`| \`${name}\``);
    const asked = JSON.parse(text('docs/openapi.json')) as {
      paths: Record<
        string,
        { get: { parameters: { schema: { enum: string[] } }[]; responses: Record<string, { content: object }> } }
      >;
    };
    const { parameters, responses } = asked.paths['/api/flows/{id}/file']!.get;
    expect(parameters[0]!.schema.enum).to.deep.equal(flowFormatNames);
    const types = new Set(Object.values(flowFormats).map(({ type }) => type.split(';')[0]!));
    expect(Object.keys(responses['200']!.content)).to.have.members([...types]);
  });

  it('have every page of the manual, which begins with its title', () => {
    for (const { name, title } of pages) {
      const file = [`docs/manual/${name}.md`, `docs/${name}.md`].find((each) => existsSync(join(root, each)));
      expect(file, name).to.not.equal(undefined);
      if (file!.startsWith('docs/manual')) expect(text(file!).split('\n')[0]).to.equal(`# ${title}`);
    }
    const manual = inDocs
      .filter((file) => /^manual.+\.md$/.test(file))
      .map((file) => file.slice('manual/'.length, -'.md'.length));
    for (const name of manual) expect(pages.map((page) => page.name as string)).to.include(name);
  });
});
