import { Box } from '@chakra-ui/react'

/** How much is done of how much, as a line that fills. */
export function ProgressBar({ label, done, of }: { label: string; done: number; of: number }) {
  return (
    <Box
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={of}
      aria-valuenow={done}
      w="8rem"
      h="1"
      bg="hairline"
    >
      <Box h="100%" bg="needle" style={{ width: `${of === 0 ? 0 : Math.min(100, (100 * done) / of)}%` }} />
    </Box>
  )
}
