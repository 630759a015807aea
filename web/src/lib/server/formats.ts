/** What goes over the wire beside documents: patches, the headers of an edit, verdict summaries. */
import Joi from 'joi';
import type { Operation, Patch } from '@crow-lane/core/document/patch';
import { flowFormats, type FlowFormat } from '@crow-lane/core/formats/flow-list';
import type { Present } from '../present.ts';
import type { Revision } from './edits.ts';

/** A revision as JSON: its patch, and the inverse where it is told, are JSON texts already. */
export function revisionJson({ patch, inverse, ...words }: Revision & { inverse?: string }): string {
  const back = inverse === undefined ? '' : `,"inverse":${inverse}`;
  return `${JSON.stringify(words).slice(0, -1)},"patch":${patch}${back}}`;
}

const pointer = Joi.string()
  .max(2000)
  .pattern(/^(\/([^~/]|~[01])*)*$/);
const operation = Joi.object<Operation>({
  op: Joi.valid('add', 'remove', 'replace', 'move', 'test').required(),
  path: pointer.required(),
  from: Joi.when('op', { is: 'move', then: pointer.valid(Joi.ref('path')).required(), otherwise: Joi.forbidden() }),
  value: Joi.when('op', { is: Joi.valid('add', 'replace', 'test'), then: Joi.any().required(), otherwise: Joi.forbidden() })
});
export const patchSchema = Joi.array<Patch>().items(operation).min(1).max(20_000).required();

export const idSchema = Joi.string().pattern(/^[A-Za-z0-9-]{1,36}$/);

/** The headers that say what an edit is. Texts come percent-encoded, as headers hold no other letters. */
export const editHeaders = Joi.object<{ editId: string; kind: 'edit' | 'undo' | 'redo'; label: string; author: string }>({
  editId: idSchema.required(),
  kind: Joi.valid('edit', 'undo', 'redo').required(),
  label: Joi.string().min(1).max(300).required(),
  author: Joi.string().min(1).max(80).required()
});

export const presentSchema = Joi.object<Present>({
  client: idSchema.required(),
  name: Joi.string().min(1).max(80).required(),
  place: Joi.string().max(40).allow(null).required()
});

/** A check that is asked for: of which revision (else the present one), and of how many states at most. */
export const checkSchema = Joi.object<{ revision?: number; limit?: number }>({
  revision: Joi.number().integer().min(1).max(1e9),
  limit: Joi.number().integer().min(1).max(5_000_000)
});

export const summarySchema = Joi.object({
  revision: Joi.number().integer().min(1).required(),
  summary: Joi.object({
    complete: Joi.boolean().required(),
    levels: Joi.number().integer().min(0).required(),
    completable: Joi.number().integer().min(0).required(),
    places: Joi.number().integer().min(0).required(),
    reached: Joi.number().integer().min(0).required(),
    failing: Joi.number().integer().min(0).required(),
    open: Joi.number().integer().min(0).required()
  }).required()
});

/** The revision that an If-Match header names ("12"); undefined when there is none or it is not ours. */
export function ifMatch(request: Request): number | undefined {
  const found = /^"(\d{1,9})"$/.exec(request.headers.get('if-match')?.trim() ?? '');
  return found ? Number(found[1]) : undefined;
}

export const etag = (revision: number) => `"${revision}"`;

/** A header's text, percent-decoded; what cannot be decoded (half a character neither) is as good as missing. */
export function headerText(request: Request, name: string): string | undefined {
  try {
    return decodeURIComponent(request.headers.get(name) ?? '') || undefined;
  } catch {
    return undefined;
  }
}

/** For how many days a link or a token is valid. */
export const linkDays = Joi.number().integer().min(1).max(366);
export const secretSchema = Joi.string()
  .pattern(/^[A-Za-z0-9_-]{20,100}$/)
  .messages({ 'string.pattern.base': 'This link is not whole.' })
  .required();

/** A page of findings has its own style and nothing else. */
export const reportPolicy = {
  'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'"
};

/** The headers of a flow that is saved as a file under its name. */
export function saved(flow: string, format: FlowFormat): Record<string, string> {
  const { type, ending } = flowFormats[format];
  const name = flow.replaceAll(/[\\/:*?"<>|\p{Cc}]+/gu, ' ').trim() || 'flow';
  const plain = name.replaceAll(/[^\x20-\x7e]/g, '_');
  return {
    'content-type': type,
    'content-disposition': `attachment; filename="${plain}.${ending}"; filename*=UTF-8''${encodeURIComponent(name)}.${ending}`
  };
}
