/** Asks for what the address will show, then starts the script behind it piece by piece: the page answers in between. */
import "@fontsource-variable/commissioner";
import "@fontsource-variable/fraunces";
import { ahead } from "./ahead";
import { queries } from "./queries";

ahead(window.location.pathname, queries);

// the app opens without a network; a browser that refuses simply needs one
if (import.meta.env.PROD) void navigator.serviceWorker?.register("/sw.js").catch(() => undefined);

/** Whatever else waits comes first: parts that are there already would be run in one task. */
const breath = () => new Promise((done) => setTimeout(done));

/** Each part is run by itself: in one piece they held the page for 0.1 to 0.16 s. */
async function start(root: Element) {
  const { createRoot } = await import("react-dom/client");
  await breath();
  await import("./theme/theme");
  await breath();
  await import("./parts/Frame");
  await breath();
  const { App } = await import("./App");
  createRoot(root).render(<App />);
}

const root = document.getElementById("root");
if (root) void start(root);
