/**
 * Lets one of the demo's invented people in, as the page for signing in does.
 * @returns {Promise<string>} what the browser keeps of the session
 */
export async function enter(address, person = "demo-owner") {
  const response = await fetch(`${address}/api/session/demo`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ person }),
  });
  const token = /session=([^;]+)/.exec(response.headers.get("set-cookie") ?? "")?.[1];
  if (!token) throw new Error(`${person} was not let in: ${await response.text()}`);
  return token;
}

/** The session as a cookie of the browser. */
export const cookieOf = (address, token) => ({ name: "session", value: token, domain: new URL(address).hostname, path: "/", httpOnly: true });
