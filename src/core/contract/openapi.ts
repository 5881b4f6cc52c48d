import * as z from 'zod'
import { refusalSchema } from './answers'
import type { Operation } from './operation'
import { OPERATIONS } from './operations'

const SAYS: Readonly<Record<number, string>> = {
  400: 'The request is not as expected; the message says what was.',
  401: 'There are accounts here, and nobody is signed in; nor was a token sent.',
  403: 'Another page, or another name of this server, is asking (as text); or whoever asks may not do this (as JSON).',
  404: 'There is no such thing.',
  409: 'It clashes with what others changed meanwhile.',
  413: 'It is too large.',
  429: 'It was tried too often.',
  422: 'What was sent is malformed; the message says where.',
}

const REFUSAL = { schema: { $ref: '#/components/schemas/Refusal' } }

/** The OpenAPI 3.1 description of the application's own interface. */
export function openApi(version: string): object {
  const paths: Record<string, Record<string, object>> = {}
  for (const operation of OPERATIONS) (paths[operation.path] ??= {})[operation.method] = described(operation)
  return {
    openapi: '3.1.1',
    info: {
      title: 'Paper Compass',
      version,
      description:
        'For scripts of a studio: on the machine where the application runs, or, where it has accounts, with a token of one of them. Requests of other pages are refused, and so are hosts that the server does not know; see docs/operating.md.',
    },
    servers: [{ url: 'http://127.0.0.1:3000' }],
    // where there are no accounts nothing is asked for
    security: [{}, { token: [] }],
    paths,
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      schemas: {
        Refusal: json(refusalSchema),
      },
    },
  }
}

function json(schema: z.ZodType): object {
  const made = z.toJSONSchema(schema, { target: 'draft-2020-12', io: 'input', unrepresentable: 'any' })
  delete made.$schema
  return made
}

function described({ path, id, says, query, body, answer, files = [], refusals = [] }: Operation): object {
  const parameters = [
    ...[...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: name === 'revision' ? { type: 'integer' } : { type: 'string', format: 'uuid' },
    })),
    ...Object.entries(query ?? {}).map(([name, of]) => ({
      name,
      in: 'query',
      required: of.required === true,
      description: of.says,
      schema: json(of.schema),
    })),
  ]
  const own =
    answer instanceof z.ZodType
      ? { 'application/json': { schema: json(answer) } }
      : { [answer.type]: answer.ref === undefined ? {} : { schema: { $ref: answer.ref } } }
  const content = { ...Object.fromEntries(files.map((type) => [type, {}])), ...own }
  const refused = [...new Set([401, 403, ...(path.includes('{id}') ? [404] : []), ...refusals])].sort()
  return {
    operationId: id,
    summary: says,
    ...(parameters.length > 0 ? { parameters } : {}),
    ...(body === undefined
      ? {}
      : { requestBody: { required: true, content: { 'application/json': { schema: json(body) } } } }),
    responses: {
      200: { description: 'Done.', content },
      ...Object.fromEntries(
        refused.map((status) => [
          status,
          {
            description: SAYS[status]!,
            content:
              status === 403 ? { 'text/plain': {}, 'application/json': REFUSAL } : { 'application/json': REFUSAL },
          },
        ]),
      ),
    },
  }
}
