import { openApi } from '@/core/api/openapi'
import { kinds } from '@/kinds/definitions'

/** The description of the API (OpenAPI 3.1), open to everyone. */
export function GET(): Response {
  return Response.json(openApi(kinds))
}
