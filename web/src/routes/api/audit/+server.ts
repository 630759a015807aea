import { json } from '@sveltejs/kit';
import { auditBefore, type AuditLine } from '$lib/server/accounts/audit.ts';
import { answering, numberIn } from '$lib/server/answer.ts';
import type { RequestHandler } from './$types';

const most = 1000;
const told = ({ flowId, ...line }: AuditLine) => ({ ...line, flow: flowId });

/** What was done, newest first: `limit` lines before the line `before`; all of it as JSON Lines with `as=jsonl`. */
export const GET: RequestHandler = answering(async ({ url }) => {
  const before = url.searchParams.get('before') ?? undefined;
  if (url.searchParams.get('as') !== 'jsonl')
    return json({ lines: (await auditBefore(before, Math.min(numberIn(url, 'limit') ?? 100, most))).map(told) });
  const encoder = new TextEncoder();
  let at = before;
  const lines = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const some = await auditBefore(at, most);
      for (const line of some) controller.enqueue(encoder.encode(`${JSON.stringify(told(line))}\n`));
      at = some.at(-1)?.id;
      if (some.length < most) controller.close();
    }
  });
  return new Response(lines, {
    headers: { 'content-type': 'application/x-ndjson', 'content-disposition': 'attachment; filename="audit.jsonl"' }
  });
});
