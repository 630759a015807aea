/** Parses the grammar of docs/flow-format.md, section 2, one function a line of it. */
import { reservedWords } from '../document/ids.ts';
import { LanguageError, type Comparison, type Expression, type Span } from './ast.ts';

interface Token {
  kind: 'integer' | 'word' | 'literal' | 'sign' | 'end';
  text: string;
  at: Span;
}

const pattern = /\s+|(\d+)|([A-Za-z_][A-Za-z0-9_]*)|'([^']*)'|(!=|<=|>=|[=<>+\-*(),])/y;

/** Deeper nesting of brackets and signs than this is refused. */
const deepest = 100;
const mostTokens = 2000;

function tokens(text: string): Token[] {
  const found: Token[] = [];
  pattern.lastIndex = 0;
  while (pattern.lastIndex < text.length) {
    const start = pattern.lastIndex;
    const match = pattern.exec(text);
    if (!match) {
      if (text[start] === "'") throw new LanguageError('This quote is not closed.', { start, end: text.length });
      throw new LanguageError(`"${String.fromCodePoint(text.codePointAt(start)!)}" has no meaning here.`, {
        start,
        end: start + 1
      });
    }
    const at = { start, end: pattern.lastIndex };
    const [, integer, word, literal, sign] = match;
    if (integer !== undefined) found.push({ kind: 'integer', text: integer, at });
    else if (word !== undefined) found.push({ kind: 'word', text: word, at });
    else if (literal !== undefined) found.push({ kind: 'literal', text: literal, at });
    else if (sign !== undefined) found.push({ kind: 'sign', text: sign, at });
    if (found.length > mostTokens) throw new LanguageError(`This is longer than ${mostTokens} words and signs.`, at);
  }
  found.push({ kind: 'end', text: '', at: { start: text.length, end: text.length } });
  return found;
}

/** What was parsed lately: the same few texts are read again after every edit. */
const known = new Map<string, Expression>();
const mostKnown = 20_000;
const longestKnown = 500;

/** Parses a condition or an expression; throws `LanguageError` at the first word that does not belong. */
export function parse(text: string): Expression {
  const before = known.get(text);
  if (before) return before;
  const expression = new Parser(tokens(text)).whole();
  if (known.size >= mostKnown) known.clear();
  if (text.length <= longestKnown) known.set(text, expression);
  return expression;
}

class Parser {
  private next = 0;
  private depth = 0;
  constructor(private readonly tokens: Token[]) {}

  whole(): Expression {
    const expression = this.or();
    if (this.peek().kind !== 'end') throw this.unexpected('This does not belong here.');
    return expression;
  }

  private or(): Expression {
    let left = this.and();
    while (this.accept('or')) left = { kind: 'or', left, right: this.and(), at: this.from(left) };
    return left;
  }

  private and(): Expression {
    let left = this.not();
    while (this.accept('and')) left = { kind: 'and', left, right: this.not(), at: this.from(left) };
    return left;
  }

  private not(): Expression {
    const token = this.peek();
    if (!this.accept('not')) return this.compare();
    return this.nested(token, () => ({ kind: 'not', of: this.not(), at: this.since(token.at.start) }));
  }

  private compare(): Expression {
    const left = this.sum();
    const operator = this.acceptOneOf('=', '!=', '<', '<=', '>', '>=');
    if (!operator) return left;
    return { kind: 'compare', operator: operator as Comparison, left, right: this.sum(), at: this.from(left) };
  }

  private sum(): Expression {
    let left = this.product();
    for (let sign = this.acceptOneOf('+', '-'); sign; sign = this.acceptOneOf('+', '-')) {
      left = { kind: 'arithmetic', operator: sign as '+' | '-', left, right: this.product(), at: this.from(left) };
    }
    return left;
  }

  private product(): Expression {
    let left = this.unary();
    while (this.accept('*')) left = { kind: 'arithmetic', operator: '*', left, right: this.unary(), at: this.from(left) };
    return left;
  }

  private unary(): Expression {
    const token = this.peek();
    if (!this.accept('-')) return this.atom();
    return this.nested(token, () => ({ kind: 'negative', of: this.unary(), at: this.since(token.at.start) }));
  }

  private atom(): Expression {
    const token = this.take();
    const { at, text } = token;
    if (token.kind === 'integer') {
      const value = Number(text);
      return { kind: 'integer', value: Number.isSafeInteger(value) ? value : BigInt(text), at };
    }
    if (token.kind === 'literal') return { kind: 'literal', id: text, at };
    if (text === '(') {
      return this.nested(token, () => {
        const inner = this.or();
        this.expect(')');
        return { ...inner, at: this.since(at.start) };
      });
    }
    if (token.kind !== 'word') throw this.unexpected('A value is missing here.', token);
    switch (text) {
      case 'true':
      case 'false':
        return { kind: 'truth', value: text === 'true', at };
      case 'position':
        return { kind: 'position', at };
      case 'min':
      case 'max':
        return this.nested(token, () => {
          this.expect('(');
          const left = this.sum();
          this.expect(',');
          const right = this.sum();
          this.expect(')');
          return { kind: text, left, right, at: this.since(at.start) };
        });
      case 'left':
      case 'taken':
        return { kind: text, piece: this.argument(text), at: this.since(at.start) };
      case 'wins':
        return { kind: 'wins', of: this.argument(text), at: this.since(at.start) };
      case 'won': {
        const level = this.argument(text, ['it', 'previous']);
        const whole = this.since(at.start);
        if (level === 'it' || level === 'previous') return { kind: 'wonCandidate', which: level, at: whole };
        return { kind: 'won', level, at: whole };
      }
      case 'last': {
        if (this.peek().text !== '(') return { kind: 'variable', id: text, at };
        const which = this.argument(text, ['won']);
        if (which !== 'won' && which !== 'lost')
          throw new LanguageError('How an attempt ended is won or lost.', this.since(at.start));
        return { kind: 'last', which, at: this.since(at.start) };
      }
      case 'has': {
        if (this.peek().text !== '(') return { kind: 'variable', id: text, at };
        this.expect('(');
        const what = this.take().text;
        if (what !== 'next' && what !== 'previous' && what !== 'save' && what !== 'slot')
          throw new LanguageError('What there can be is next, previous, save or slot.', this.since(at.start));
        const along = what === 'next' || what === 'previous';
        const order = along && this.accept(',') ? this.name() : undefined;
        this.expect(')');
        return { kind: 'has', what, ...(order !== undefined && { order }), at: this.since(at.start) };
      }
      case 'saved':
        if (this.peek().text !== '(') return { kind: 'variable', id: text, at };
        if (this.argument(text) !== 'progress')
          throw new LanguageError('What is saved as a number is its progress.', this.since(at.start));
        return { kind: 'saved', at: this.since(at.start) };
      case 'at':
        if (this.peek().text !== '(') return { kind: 'variable', id: text, at };
        return { kind: 'at', spot: this.argument(text), at: this.since(at.start) };
      case 'all':
      case 'count':
        // no id is reserved for these: without brackets they are values of the game
        if (this.peek().text !== '(') return { kind: 'variable', id: text, at };
        return { kind: text, of: this.argument(text), at: this.since(at.start) };
      default:
        if (reservedWords.includes(text)) throw this.unexpected(`"${text}" does not belong here.`, token);
        return { kind: 'variable', id: text, at };
    }
  }

  /** One name in brackets, after a word of the language. */
  private argument(word: string, allowed: string[] = []): string {
    if (!this.accept('('))
      throw this.unexpected(`After "${word}" comes a name in brackets; a choice of this name is written '${word}'.`);
    const name = this.name(allowed);
    this.expect(')');
    return name;
  }

  private name(allowed: string[] = []): string {
    const token = this.take();
    if (token.kind !== 'word' || (reservedWords.includes(token.text) && !allowed.includes(token.text))) {
      throw this.unexpected('A name is missing here.', token);
    }
    return token.text;
  }

  private nested(token: Token, inner: () => Expression): Expression {
    if (++this.depth > deepest) throw new LanguageError(`This is nested more than ${deepest} deep.`, token.at);
    const expression = inner();
    this.depth--;
    return expression;
  }

  private peek(): Token {
    return this.tokens[this.next]!;
  }

  private take(): Token {
    const token = this.peek();
    if (token.kind !== 'end') this.next++;
    return token;
  }

  private acceptOneOf(...texts: string[]): string | undefined {
    const token = this.peek();
    if (token.kind === 'literal' || token.kind === 'end' || !texts.includes(token.text)) return undefined;
    this.next++;
    return token.text;
  }

  private accept(text: string): boolean {
    return this.acceptOneOf(text) !== undefined;
  }

  private expect(text: string): void {
    if (!this.accept(text)) throw this.unexpected(`"${text}" is missing here.`);
  }

  private unexpected(message: string, token = this.peek()): LanguageError {
    return new LanguageError(
      token.kind === 'end' ? message.replace('This does not belong', 'Something is missing') : message,
      token.at
    );
  }

  private from(left: Expression): Span {
    return this.since(left.at.start);
  }

  private since(start: number): Span {
    return { start, end: this.tokens[this.next - 1]!.at.end };
  }
}
