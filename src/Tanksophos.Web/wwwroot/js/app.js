// Starts the page: brings the parts it uses and then Alpine. Sheets and closing are Bootstrap's.
import Alpine from '../lib/alpine/alpine-csp.js';
import '../lib/bootstrap/bootstrap.js';
import { load } from './parts/loader.js';

await load(document);
window.Alpine = Alpine;
Alpine.start();
document.documentElement.dataset.ready = 'yes';

// Where the browser allows it (https, or this computer), the last state can be looked at without a connection.
if (window.isSecureContext) navigator.serviceWorker?.register(new URL('../sw.js', import.meta.url)).catch(() => { });
