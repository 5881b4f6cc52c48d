/** @type {import('next').NextConfig} */
const config = {
  serverExternalPackages: ['@electric-sql/pglite', 'fractional-indexing'],
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  // lint and types have commands of their own
  typescript: { ignoreBuildErrors: true },
  experimental: { optimizePackageImports: ['@chakra-ui/react'] },
}

export default config
