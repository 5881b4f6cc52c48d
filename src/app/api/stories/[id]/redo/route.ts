import { travelRoute } from '../../../../server/travel'

export const POST = travelRoute('redo')
