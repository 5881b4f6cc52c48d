'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useCallback, useEffect, useState } from 'react'
import type { Nights, NightStory } from '../../core/contract/jobs'
import { jobsApi } from '../../session/jobs-api'
import { Plain, Quiet } from '../../ui/buttons'
import { ProgressBar } from '../../ui/progress-bar'
import { LevelMark } from '../../ui/marks'
import { PageTitle, Trouble, useAsking } from '../members/form'
import { HousePage } from '../members/house-bar'
import { said } from '../shared/said'
import { sayMoment } from '../shared/when'

/** Between two looks how far it is, in milliseconds. */
const LOOK_MS = 1_500

/** The survey of all stories that is done each night, and what has changed since the one before. */
export function NightsView({ first, mayBegin }: { first: Nights; mayBegin: boolean }) {
  const [{ night, workers, at }, setNights] = useState(first)
  const { trouble, say, run } = useAsking()
  const isUnderWay = night !== null && night.endedAt === null
  const read = useCallback(async () => {
    const found = await jobsApi.nights()
    if (found.ok) setNights(found.value)
    else say(found.error.message)
  }, [say])
  useEffect(() => {
    if (!isUnderWay) return undefined
    const timer = setInterval(() => void read(), LOOK_MS)
    return () => clearInterval(timer)
  }, [isUnderWay, read])
  const changed = night?.stories.filter(isNews) ?? []
  const same = night?.stories.filter((story) => !isNews(story)) ?? []
  return (
    <HousePage>
      <PageTitle>The night’s survey</PageTitle>
      <Text color="faded" mt="1">
        {at === null ? 'All stories are surveyed on asking.' : `All stories are surveyed ${sayTime(at)}.`} Here is what
        has changed since the survey before.
      </Text>
      <Trouble text={trouble} />
      <Flex align="center" gap="4" mt="4" wrap="wrap" role="status" data-night={night?.state ?? 'none'}>
        <Text>{sayNight(night, workers)}</Text>
        {isUnderWay && night.total > 0 && <ProgressBar label="Stories surveyed" done={night.done} of={night.total} />}
        {mayBegin && !isUnderWay && (
          <Plain onClick={() => void run(jobsApi.beginNight(), () => void read())}>Survey all stories now</Plain>
        )}
        {mayBegin && isUnderWay && (
          <Quiet onClick={() => void run(jobsApi.cancelNight(night.id), () => void read())}>Stop</Quiet>
        )}
      </Flex>
      {changed.map((story) => (
        <Row key={story.story} story={story} />
      ))}
      {same.length > 0 && (
        <Text mt="6" color="faded">
          Nothing new:
        </Text>
      )}
      {same.map((story) => (
        <Row key={story.story} story={story} />
      ))}
    </HousePage>
  )
}

/** When a night begins, of a cron expression. */
function sayTime(cron: string): string {
  const [, minute, hour] = /^(\d+) (\d+) \* \* \*$/.exec(cron) ?? []
  return hour === undefined ? `at “${cron}”` : `each night at ${hour.padStart(2, '0')}:${minute!.padStart(2, '0')} UTC`
}

function isNews({ came, went, stranded, failure }: NightStory): boolean {
  return failure !== null || came.length > 0 || went.length > 0 || stranded.some(({ findings }) => findings > 0)
}

function sayNight(night: Nights['night'], workers: number): string {
  if (night === null) return 'There was none yet.'
  const { state, madeAt, endedAt, done, total } = night
  const of = `${done} of ${said(total, 'story', 'stories')}`
  switch (state) {
    case 'waiting':
    case 'running':
      return workers === 0
        ? 'Waits: no worker is running; whoever looks after the server starts one (npm run worker).'
        : `${of} surveyed …`
    case 'done':
      return `${said(total, 'story', 'stories')}, ${sayMoment(endedAt ?? madeAt)}.`
    case 'cancelled':
      return `Stopped after ${of}, ${sayMoment(endedAt ?? madeAt)}.`
    case 'failed':
      return `Failed after ${of}.`
  }
}

function Row({ story }: { story: NightStory }) {
  const {
    story: id,
    title,
    complete,
    endings,
    stages,
    errors,
    warnings,
    stranded,
    came,
    went,
    failure,
    before,
    revision,
  } = story
  return (
    <Box py="2" borderBottom="1px solid" borderColor="hairline" data-night-story={id}>
      <Flex gap="4" align="baseline" wrap="wrap">
        <Text flex="1" minW="14rem" fontFamily="story" fontSize="lg">
          <Link href={`/story/${id}/bearings`}>{title}</Link>
        </Text>
        <Text color="faded" fontSize="sm">
          {failure ??
            [
              `${endings.reached} of ${endings.of} endings, ${stages.reached} of ${stages.of} stages`,
              said(errors, 'error'),
              said(warnings, 'warning'),
              complete ? 'exact' : 'cut short',
              before === null ? 'for the first time' : before === revision ? 'not edited since' : '',
            ]
              .filter((part) => part !== '')
              .join(' · ')}
        </Text>
      </Flex>
      <Found title="New" found={came} />
      <Found title="Gone" found={went} isGone />
      {stranded
        .filter(({ findings }) => findings > 0)
        .map(({ version, findings }) => (
          <Text key={version} fontSize="sm" color="needle">
            Players of “{version}”: {said(findings, 'finding')}
          </Text>
        ))}
    </Box>
  )
}

function Found({ title, found, isGone }: { title: string; found: NightStory['came']; isGone?: boolean }) {
  if (found.length === 0) return null
  return (
    <Box mt="1" fontSize="sm">
      {found.map(({ level, message }, at) => (
        <Flex key={at} gap="2" align="baseline" color={isGone ? 'faded' : undefined}>
          <Text color={isGone ? 'kept' : 'needle'} minW="3rem">
            {title}
          </Text>
          <LevelMark level={level} />
          <Text>{message}</Text>
        </Flex>
      ))}
    </Box>
  )
}
