import { Text } from '@chakra-ui/react'
import { Quiet } from '../../../ui/buttons'

/** A question that was not answered, and why. */
export function NoAnswer({ message, askAgain }: { readonly message: string; readonly askAgain?: () => void }) {
  return (
    <Text color="needle" role="alert">
      This could not be worked out: {message}.{' '}
      {askAgain === undefined ? (
        'It is tried again after the next edit.'
      ) : (
        <Quiet color="needle" onClick={askAgain}>
          Ask again
        </Quiet>
      )}
    </Text>
  )
}
