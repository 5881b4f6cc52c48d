import { Text } from '@chakra-ui/react'

/** A question that was not answered, and why. */
export function NoAnswer({ message }: { message: string }) {
  return (
    <Text color="needle" role="alert">
      This could not be worked out: {message}. It is tried again after the next edit.
    </Text>
  )
}
