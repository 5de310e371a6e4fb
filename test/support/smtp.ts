import type { AddressInfo } from "node:net";
import { createServer, type Server, type Socket } from "node:net";

/** What a mail server was given: the envelope, and the message as it came. */
export type Delivered = { from: string; to: string[]; data: string };

/**
 * A mail server that keeps what it is given (RFC 5321: EHLO, MAIL, RCPT, DATA, QUIT), a stand-in for tests.
 * @param refuses an address it takes no mail for
 */
export async function smtpServer(refuses = ""): Promise<{ url: string; delivered: Delivered[]; close: () => Promise<void> }> {
  const delivered: Delivered[] = [];
  const server: Server = createServer((socket) => converse(socket, delivered, refuses));
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const { port } = server.address() as AddressInfo;
  return { url: `smtp://127.0.0.1:${port}`, delivered, close: () => new Promise((done) => server.close(() => done())) };
}

function converse(socket: Socket, delivered: Delivered[], refuses: string): void {
  const say = (line: string) => socket.write(`${line}\r\n`);
  let mail: Delivered = { from: "", to: [], data: "" };
  let receiving = false;
  let rest = "";
  say("220 stand-in");
  socket.on("error", () => {});
  socket.on("data", (chunk) => {
    const lines = (rest + chunk.toString("latin1")).split("\r\n");
    rest = lines.pop() ?? "";
    for (const line of lines) {
      if (receiving) {
        if (line === ".") {
          receiving = false;
          delivered.push(mail);
          mail = { from: "", to: [], data: "" };
          say("250 kept");
        } else mail.data += `${line.startsWith("..") ? line.slice(1) : line}\r\n`;
        continue;
      }
      const [, address = ""] = /<([^>]*)>/.exec(line) ?? [];
      const verb = line.slice(0, 4).toUpperCase();
      if (verb === "MAIL") mail.from = address;
      if (verb === "RCPT" && address === refuses) {
        say("550 no such place");
        continue;
      }
      if (verb === "RCPT") mail.to.push(address);
      if (verb === "DATA") receiving = true;
      say(verb === "DATA" ? "354 go on" : verb === "QUIT" ? "221 bye" : "250 ok");
      if (verb === "QUIT") socket.end();
    }
  });
}
