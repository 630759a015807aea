import { json } from '@sveltejs/kit';
import description from '../../../../../docs/openapi.json';

/** What this server can be asked (OpenAPI 3.1). */
export const GET = () => json(description);
