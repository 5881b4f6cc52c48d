import { PHASE_DEVELOPMENT_SERVER, PHASE_PRODUCTION_BUILD } from 'next/constants.js'
import { surveyor } from './scripts/ensure.mjs'

// alone on a machine nothing goes through a network: to pack and unpack would take longer than to read
const isShared = (process.env.PAPER_COMPASS_DATABASE_URL ?? '').trim() !== ''

/** @type {(phase: string) => import('next').NextConfig} */
const config = (phase) => ({
  // written in where it is built; while it is being worked on it would change under what was kept
  env: phase === PHASE_PRODUCTION_BUILD ? { SURVEYOR: surveyor() } : {},
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
