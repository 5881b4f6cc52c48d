// alone on a machine nothing goes through a network: to pack and unpack would take longer than to read
const isShared = (process.env.PAPER_COMPASS_DATABASE_URL ?? '').trim() !== ''

/** @type {import('next').NextConfig} */
const config = {
  serverExternalPackages: ['@electric-sql/pglite', 'fractional-indexing'],
  compress: isShared,
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  // lint and types have commands of their own
  typescript: { ignoreBuildErrors: true },
  experimental: { optimizePackageImports: ['@chakra-ui/react'] },
}

export default config
