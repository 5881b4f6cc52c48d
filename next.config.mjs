import { PHASE_DEVELOPMENT_SERVER } from 'next/constants.js'
import { surveyor } from './scripts/ensure.mjs'

// alone on a machine nothing goes through a network: to pack and unpack would take longer than to read
const isShared = (process.env.PAPER_COMPASS_DATABASE_URL ?? '').trim() !== ''

/** @type {(phase: string) => import('next').NextConfig} */
const config = (phase) => ({
  // while it is being worked on it changes under what was kept
  env: phase === PHASE_DEVELOPMENT_SERVER ? {} : { SURVEYOR: surveyor() },
  serverExternalPackages: ['@electric-sql/pglite', 'fractional-indexing'],
  compress: isShared,
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  // lint and types have commands of their own
  typescript: { ignoreBuildErrors: true },
  experimental: {
    optimizePackageImports: ['@chakra-ui/react'],
    // each page is read when it is opened first: all at once take longer than everything else at the start
    preloadEntriesOnStart: false,
    // nothing reads them where the application is served
    turbopackSourceMaps: phase === PHASE_DEVELOPMENT_SERVER,
  },
})

export default config
