/** Requests that do not come from our own pages are refused: a foreign page, or a foreign name for this address. */

const local = new Set(['127.0.0.1', 'localhost', '[::1]']);

/** Whether a Host header names this server: a loopback name, the HOST served on, CROW_LANE_ADDRESS, or one of CROW_LANE_HOSTS. */
export function isOurHost(header: string | null, environment: NodeJS.ProcessEnv = process.env): boolean {
  const found = /^(\[[0-9a-fA-F:]+\]|[^:]+)(?::\d{1,5})?$/.exec(header?.trim() ?? '');
  if (!found) return false;
  const name = found[1]!.toLowerCase();
  const given = (environment.CROW_LANE_HOSTS ?? '')
    .split(',')
    .map((host) => host.trim().toLowerCase())
    .filter(Boolean);
  const address = environment.CROW_LANE_ADDRESS;
  return (
    local.has(name) ||
    name === environment.HOST?.toLowerCase() ||
    given.includes(name) ||
    (address !== undefined && address !== '' && name === new URL(address).hostname.toLowerCase())
  );
}

/** Whether a request's origin is the host it was sent to. Without an Origin header only reading is allowed. */
export function isOurOrigin(request: Request): boolean {
  const origin = request.headers.get('origin');
  if (origin === null) return request.method === 'GET' || request.method === 'HEAD';
  try {
    return new URL(origin).host === request.headers.get('host');
  } catch {
    return false;
  }
}

/** Where to go after signing in: a path of ours, and nothing else. */
export function pathOf(text: string | null): string {
  if (!text || !text.startsWith('/') || /^\/[/\\]/.test(text) || /[\p{Cc}\\]/u.test(text)) return '/';
  const url = new URL(text, 'http://ours.invalid');
  return url.origin === 'http://ours.invalid' ? url.pathname + url.search : '/';
}
