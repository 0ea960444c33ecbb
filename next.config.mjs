/** @type {import('next').NextConfig} */
const config = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  serverExternalPackages: ['mysql2', '@node-rs/argon2', 'web-push', 'nodemailer', 'pdfkit', 'fontkit'],
  experimental: { serverActions: { bodySizeLimit: '8mb' }, optimizePackageImports: ['@mantine/core', '@mantine/hooks', '@tabler/icons-react'] },
  typescript: { ignoreBuildErrors: true }
}
export default config
