// node scripts/texts.mjs [FOLDER…]: every text that users can read, with its file and line, for reviewing them as a whole:
// strings with words in the sources, and the text and labels of components.
import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { parse } from 'svelte/compiler';
import ts from 'typescript';
import { root } from './lib/paths.mjs';

const folders = process.argv.slice(2);
const asked = folders.length > 0 ? folders : ['core/src', 'web/src', 'cli/src'];
/** Attributes whose values are read, or read out. */
const spoken = new Set(['title', 'placeholder', 'aria-label', 'label', 'alt', 'words', 'hint', 'of', 'one']);
const isText = (text) => /[A-Za-z]{2}/.test(text) && (/\s/.test(text.trim()) || /^[A-Z][a-z]+/.test(text.trim()));

for (const folder of asked)
  for (const name of readdirSync(join(root, folder), { recursive: true }).sort()) {
    const file = join(root, folder, String(name));
    const source = /\.(ts|svelte)$/.test(file) && !/\.d\.ts$/.test(file) ? readFileSync(file, 'utf8') : undefined;
    if (source === undefined) continue;
    const found = file.endsWith('.svelte') ? inComponent(source) : inScript(source, 0);
    for (const { at, text } of found.sort((a, b) => a.at - b.at))
      console.log(`${relative(root, file)}:${source.slice(0, at).split('\n').length}: ${text.replaceAll(/\s+/g, ' ').trim()}`);
  }

/** Strings and templates, what is filled in as {…}; not those of imports, types and generated code. */
function inScript(text, offset) {
  const found = [];
  const file = ts.createSourceFile('file.ts', text, ts.ScriptTarget.Latest, true);
  const visit = (node) => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return;
    if (ts.isTaggedTemplateExpression(node)) return;
    if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      if (isText(node.text)) found.push({ at: offset + node.getStart(), text: node.text });
    } else if (ts.isTemplateExpression(node)) {
      const said = node.head.text + node.templateSpans.map(({ literal }) => `{…}${literal.text}`).join('');
      if (isText(said)) found.push({ at: offset + node.getStart(), text: said });
    }
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

/** The text between tags, spoken attributes, and the strings of scripts and expressions. */
function inComponent(source) {
  const found = [];
  const scripts = /<script[^>]*>([\s\S]*?)<\/script>/g;
  for (const match of source.matchAll(scripts)) found.push(...inScript(match[1], match.index + match[0].indexOf(match[1])));
  const visit = (node, attribute) => {
    if (!node || typeof node !== 'object') return;
    if (Array.isArray(node)) return node.forEach((each) => visit(each, attribute));
    if (
      node.type === 'Text' &&
      (attribute === undefined ? /[A-Za-z]{2}/.test(node.data) : spoken.has(attribute) && /[A-Za-z]/.test(node.data))
    )
      found.push({ at: node.start, text: attribute ? `[${attribute}] ${node.data}` : node.data });
    if (
      node.type === 'Literal' &&
      typeof node.value === 'string' &&
      isText(node.value) &&
      (attribute === undefined || spoken.has(attribute))
    )
      found.push({ at: node.start, text: node.value });
    if (node.type === 'TemplateLiteral') {
      const said = node.quasis.map(({ value }) => value.cooked).join('{…}');
      if (isText(said) && (attribute === undefined || spoken.has(attribute))) found.push({ at: node.start, text: said });
    }
    const inside = node.type === 'Attribute' ? node.name : attribute;
    for (const [key, value] of Object.entries(node)) if (key !== 'parent' && typeof value === 'object') visit(value, inside);
  };
  visit(parse(source, { modern: true }).fragment);
  return found;
}
