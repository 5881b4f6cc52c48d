import { handler, jsonText, refuse } from '../../../../../server/answers'

/** The story as it was after a revision. */
export const GET = handler<{ id: string; revision: string }>('read', async ({ store, params: { id, revision } }) => {
  const text = /^\d{1,15}$/.test(revision) ? await store.ask('textAt', id, Number(revision)) : undefined
  return text === undefined ? refuse(404, 'The story was never at this point.') : jsonText(`{"story":${text}}`)
})
