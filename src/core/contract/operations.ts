import * as z from 'zod'
import type { Form } from '../formats/form'
import { formsFor } from '../formats/forms'
import { playRecordSchema } from '../formats/playtest/read'
import {
  cardsSchema,
  factsSchema,
  historySchema,
  hitSchema,
  incomingFileSchema,
  madeSchema,
  openedSchema,
  ORDERS,
  playtestsSchema,
  progressSchema,
  readManuscriptSchema,
  releasedSchema,
  savedSchema,
  leftOfChartSchema,
  voicesSchema,
} from './answers'
import { JOB_OPERATIONS } from './job-operations'
import { MEMBER_OPERATIONS } from './member-operations'
import type { Operation } from './operation'

/** What pages of one version of the program keep for each other. */
const keptSurvey = z.looseObject({ surveyor: z.string() })
const decided = z.object({ decisions: z.int(), route: z.array(z.unknown()).optional() })
const addresses = z.array(z.string())
const surveySchema = z.looseObject({
  complete: z.boolean(),
  reached: z.object({
    beats: z.record(z.string(), decided),
    choices: z.record(z.string(), decided),
    endings: z.record(z.string(), decided),
    stages: z.record(z.string(), decided),
  }),
  unreached: z.object({ beats: addresses, choices: addresses, endings: addresses, stages: addresses }),
  undecided: z.object({
    beats: addresses,
    choices: addresses,
    endings: addresses,
    stages: addresses,
    promises: addresses,
  }),
  promises: z.record(z.string(), z.looseObject({ verdict: z.enum(['kept', 'broken']) })),
  findings: z.array(
    z.looseObject({
      kind: z.string(),
      level: z.enum(['error', 'warning', 'note']),
      key: z.array(z.string()),
      message: z.string(),
    }),
  ),
})
const textsSchema = z.object({
  language: z.string(),
  revision: z.int(),
  texts: z.array(
    z.object({
      key: z.string(),
      source: z.string(),
      text: z.string().optional(),
      of: z.string().optional(),
      state: z.enum(['missing', 'draft', 'checked', 'outdated']).optional(),
    }),
  ),
})
const typesOf = (forms: readonly Form[]) => forms.map(({ type }) => type.split(';')[0]!)
const COPY_FORMS = formsFor('copy').map(({ id }) => id)
const CHART_FORMS = formsFor('chart').map(({ id }) => id)
const MANUSCRIPT_FORMS = formsFor('manuscript').map(({ id }) => id)
const TEXT_FORMS = formsFor('texts').map(({ id }) => id)
const asked = { request: z.uuid().optional(), author: z.uuid().optional() }
const change = z.looseObject({
  op: z.enum(['insert', 'remove', 'replace', 'move', 'set-story', 'set-scene', 'set-page', 'set-texts', 'batch']),
})
const without = {
  says: 'what to leave out: what is on no route',
  schema: z.enum(['unreached']),
}
const comments = { says: 'open: with what is still talked about', schema: z.enum(['open']) }
const budget = { says: 'seconds that the survey may take, at most 60', schema: z.number() }

export const OPERATIONS: readonly Operation[] = [
  {
    method: 'get',
    path: '/api/stories',
    id: 'listStories',
    says: 'The stories of the library, fifty at once.',
    query: {
      q: { says: 'words of the title', schema: z.string() },
      from: { says: 'how many to pass over', schema: z.int() },
      order: { says: 'in which order', schema: z.enum(ORDERS) },
    },
    answer: cardsSchema,
    refusals: [400],
  },
  {
    method: 'post',
    path: '/api/stories',
    id: 'createStory',
    says: 'A new story by its title; or, sent as application/octet-stream, the text of a story file.',
    body: z.object({ title: z.string(), language: z.string().optional() }),
    answer: madeSchema,
    refusals: [400, 413, 422],
  },
  {
    method: 'get',
    path: '/api/imports/{id}',
    id: 'importProgress',
    says: 'How far an import is, by the UUID that it was begun with (?import=).',
    answer: progressSchema,
    refusals: [404],
  },
  {
    method: 'get',
    path: '/api/stories/{id}',
    id: 'openStory',
    says: 'A story with the revision that it is at.',
    answer: openedSchema.extend({ story: z.unknown(), survey: keptSurvey.nullable() }),
  },
  { method: 'delete', path: '/api/stories/{id}', id: 'deleteStory', says: 'Deletes a story.', answer: madeSchema },
  {
    method: 'post',
    path: '/api/stories/{id}/restore',
    id: 'restoreStory',
    says: 'Brings a deleted story back.',
    answer: madeSchema,
  },
  {
    method: 'post',
    path: '/api/stories/{id}/duplicate',
    id: 'duplicateStory',
    says: 'A copy of a story.',
    answer: madeSchema,
  },
  {
    method: 'post',
    path: '/api/stories/{id}/changes',
    id: 'changeStory',
    says: 'One editing operation. The same request sent twice is carried out once.',
    body: z.object({ ...asked, request: z.uuid(), change }),
    answer: savedSchema.extend({ change: z.unknown() }),
    refusals: [400, 409, 422],
  },
  ...(['undo', 'redo'] as const).map((kind): Operation => ({
    method: 'post',
    path: `/api/stories/{id}/${kind}`,
    id: `${kind}Change`,
    says: kind === 'undo' ? 'Takes the last change back.' : 'Brings a change that was taken back again.',
    body: z.object({ ...asked, anyones: z.boolean().optional() }),
    answer: savedSchema.extend({ change: z.unknown() }),
    refusals: [400, 409],
  })),
  {
    method: 'post',
    path: '/api/stories/{id}/return',
    id: 'returnTo',
    says: 'Makes the story what it was after a revision, as a new change.',
    body: z.object({ ...asked, revision: z.int() }),
    answer: savedSchema.extend({ change: z.unknown() }),
    refusals: [400, 409],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/history',
    id: 'history',
    says: 'The steps of a story, the latest first, and its named versions.',
    query: { before: { says: 'only steps before this revision', schema: z.int() } },
    answer: historySchema,
    refusals: [400],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/at/{revision}',
    id: 'storyAt',
    says: 'The story as it was after a revision.',
    answer: z.object({ story: z.unknown() }),
  },
  {
    method: 'post',
    path: '/api/stories/{id}/versions',
    id: 'nameVersion',
    says: 'Gives the story as it is now a name.',
    body: z.object({ name: z.string() }),
    answer: z.object({}),
    refusals: [400],
  },
  {
    method: 'post',
    path: '/api/stories/{id}/versions/{version}',
    id: 'releaseVersion',
    says: 'Says that players have a version, or no longer: what becomes of their saves is then looked at with every edit.',
    body: releasedSchema,
    answer: z.object({}),
    refusals: [400],
  },
  {
    method: 'delete',
    path: '/api/stories/{id}/versions/{version}',
    id: 'forgetVersion',
    says: 'Forgets the name of a version.',
    answer: z.object({}),
  },
  {
    method: 'get',
    path: '/api/stories/{id}/events',
    id: 'events',
    says: 'Every change as it is saved, as server-sent events: first `at`, the revision, then `change`.',
    answer: { type: 'text/event-stream' },
  },
  {
    method: 'post',
    path: '/api/stories/{id}/facts',
    id: 'keepFacts',
    says: 'Keeps what a survey said of the story: the facts for the library, all of it for whoever opens the story next.',
    body: z.object({ revision: z.int(), facts: factsSchema, survey: keptSurvey.optional() }),
    answer: z.object({}),
    refusals: [400],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/search',
    id: 'search',
    says: 'Everything in the story that has all these words.',
    query: { q: { says: 'the words', schema: z.string(), required: true } },
    answer: z.array(hitSchema),
  },
  {
    method: 'get',
    path: '/api/stories/{id}/export',
    id: 'exportStory',
    says: 'The story file.',
    answer: { type: 'application/json', ref: 'story.schema.json' },
  },
  {
    method: 'get',
    path: '/api/stories/{id}/bundle',
    id: 'bundle',
    says: 'The story made ready for engines, as docs/bundle.schema.json describes it.',
    query: { without, budget },
    answer: { type: 'application/json', ref: 'bundle.schema.json' },
    refusals: [400],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/page',
    id: 'page',
    says: 'A page that plays the story from one file.',
    query: { without, budget },
    answer: { type: 'text/html' },
    refusals: [400],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/survey',
    id: 'survey',
    says: 'What the survey decides of the story: the same JSON as the command line prints.',
    query: { routes: { says: 'which routes to give', schema: z.enum(['all', 'ends', 'none']) }, budget },
    answer: surveySchema,
    refusals: [400],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/texts',
    id: 'texts',
    says: 'Every text that can be translated and spoken, by its key; with a language what it is there.',
    query: {
      language: { says: 'a language tag', schema: z.string() },
      format: { says: 'a file instead, in this form', schema: z.enum(TEXT_FORMS) },
      scene: { says: 'only what stands in this scene', schema: z.string() },
      comments,
    },
    answer: textsSchema,
    files: typesOf(formsFor('texts')),
    refusals: [400],
  },
  {
    method: 'post',
    path: '/api/stories/{id}/texts',
    id: 'readTexts',
    says: 'Reads a file of texts that somebody worked on, sent as application/octet-stream; nothing goes in.',
    query: { format: { says: 'its form', schema: z.enum([...TEXT_FORMS, 'markdown']), required: true } },
    answer: incomingFileSchema,
    refusals: [400, 413, 422],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/copy',
    id: 'copy',
    says: 'A reading copy as a file: of the story, of a scene, of a kept route, or of the shortest way to an ending.',
    query: {
      format: { says: 'its form', schema: z.enum(COPY_FORMS), required: true },
      scene: { says: 'the id of a scene', schema: z.string() },
      route: { says: 'the id of a kept route', schema: z.string() },
      ending: { says: 'the id of an ending', schema: z.string() },
      comments,
      open: { says: 'to be shown rather than kept', schema: z.enum(['here']) },
      budget,
    },
    answer: { type: 'text/markdown' },
    files: typesOf(formsFor('copy')),
    refusals: [400],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/chart',
    id: 'chart',
    says: 'The story as a state chart: a file, or what such a chart can not express.',
    query: {
      format: { says: 'its form', schema: z.enum(CHART_FORMS), required: true },
      only: { says: 'left: what it can not express, instead of the file', schema: z.enum(['left']) },
    },
    answer: leftOfChartSchema,
    files: typesOf(formsFor('chart')),
    refusals: [400],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/voices',
    id: 'voices',
    says: 'What is to be recorded in a language: one row for each wording that can really be said.',
    query: {
      language: { says: "a language tag; the story's own where it is left out", schema: z.string() },
      person: { says: 'only what this person says; narrator: nobody', schema: z.string() },
      scene: { says: 'only what stands in this scene', schema: z.string() },
      only: { says: 'open: only what is not marked as recorded as it reads now', schema: z.enum(['open']) },
      format: { says: 'a file instead, in this form', schema: z.enum(formsFor('voices').map((form) => form.id)) },
      open: { says: 'to be shown rather than kept', schema: z.enum(['here']) },
      budget,
    },
    answer: voicesSchema,
    files: typesOf(formsFor('voices')),
    refusals: [400],
  },
  {
    method: 'post',
    path: '/api/stories/{id}/voices',
    id: 'readVoices',
    says: 'Reads an earlier recording script (XLSX), sent as application/octet-stream: its texts by file.',
    answer: z.record(z.string(), z.string()),
    refusals: [413, 422],
  },
  {
    method: 'post',
    path: '/api/manuscripts',
    id: 'readManuscript',
    says: 'Reads a file as a manuscript, sent as application/octet-stream: what it would make.',
    query: { format: { says: 'its form', schema: z.enum(MANUSCRIPT_FORMS), required: true } },
    answer: readManuscriptSchema,
    refusals: [400, 413, 422],
  },
  {
    method: 'get',
    path: '/api/stories/{id}/playtests',
    id: 'playtests',
    says: 'The records of how people played.',
    answer: playtestsSchema,
  },
  {
    method: 'post',
    path: '/api/stories/{id}/playtests',
    id: 'addPlaytest',
    says: 'Keeps a record of how somebody played; the same one is kept once.',
    body: z.object({ name: z.string(), record: playRecordSchema }),
    answer: z.object({ added: z.boolean() }),
    refusals: [400, 413],
  },
  {
    method: 'delete',
    path: '/api/stories/{id}/playtests/{playtest}',
    id: 'removePlaytest',
    says: 'Deletes a record.',
    answer: z.object({}),
  },
  ...JOB_OPERATIONS,
  ...MEMBER_OPERATIONS,
]
