'use client'

import { Component, type ReactNode } from 'react'
import { Box, Text } from '@chakra-ui/react'
import { Plain } from '../../ui/buttons'

interface Props {
  readonly what: string
  readonly children: ReactNode
}

/** Keeps a fault in one view from taking the others, and the unsaved text, with it. */
export class FailureBoundary extends Component<Props, { readonly error: Error | undefined }> {
  override state = { error: undefined as Error | undefined }

  static getDerivedStateFromError(error: Error) {
    return { error }
  }

  override render() {
    const { error } = this.state
    if (error === undefined) return this.props.children
    return (
      <Box role="alert" p="6" maxW="36rem">
        <Text fontWeight={600}>{this.props.what} could not be shown.</Text>
        <Text color="faded" mt="1">
          {error.message}. Your text is safe; the other views go on working.
        </Text>
        <Plain mt="3" onClick={() => this.setState({ error: undefined })}>
          Try again
        </Plain>
      </Box>
    )
  }
}
