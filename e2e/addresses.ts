/** Where the demo of the browser tests listens. */
export const DEMO_PORT = 3960;
export const STANDIN_PORT = 4960;
export const DEMO_URL = `http://127.0.0.1:${DEMO_PORT}`;
/** Where the cookie of the signed-in user is kept between the tests. */
export const SESSION_FILE = "test-results/.session.json";
export const STANDIN_URL = `http://127.0.0.1:${STANDIN_PORT}`;
