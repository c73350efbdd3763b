import { defineConfig } from "@playwright/test";

const port = 8177;
export default defineConfig({
  testDir: "e2e",
  workers: 2,
  timeout: 90_000,
  reporter: [["list"]],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    locale: "en-GB",
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
        "--disable-component-update", "--disable-sync", "--disable-default-apps", "--disable-dev-shm-usage"],
    },
  },
  webServer: {
    command: `exec bin/turret demo --addr 127.0.0.1:${port}`,
    url: `http://127.0.0.1:${port}/healthz`,
    timeout: 60_000,
    stderr: "ignore",
    gracefulShutdown: { signal: "SIGTERM", timeout: 5000 },
  },
});
