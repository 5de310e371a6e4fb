import nodemailer from "nodemailer";
import PostalMime from "postal-mime";
import { fillText } from "@/core/dashboard/edit";
import type { ScheduleMessage } from "@/core/schedule/spec";
import type { Workspace } from "@/server/services/workspace/workspace";

/* Messages of schedules: made as RFC 5322 has them, laid in the outbox, and sent where a mail server is set. */

/** What of files goes with a message at most; beyond that it names them instead. Servers take some 10 to 25 MB (common practice). */
const MOST_ATTACHED = 15_000_000;

export type Attached = { name: string; content: Buffer };
export type MadeMessage = { content: Buffer; from: string; to: string[] };

/** Who messages are from: set with the mail server, or a name that no server would take. */
const sender = (): string => process.env.NEXT_LEDGER_MAIL_FROM ?? "ledger@localhost";

/**
 * Makes a message with a run's files.
 * @param words what {name}, {day} and {rows} stand for
 * @param id tells the run apart, so that a message sent twice is known as one
 */
export async function makeMessage(ws: Workspace, message: ScheduleMessage, words: Record<string, string>, files: Attached[], id: string): Promise<MadeMessage> {
  const large = files.reduce((sum, f) => sum + f.content.length, 0) > MOST_ATTACHED;
  const attached = message.attach && !large;
  const names = files.map((f) => `- ${f.name}`).join("\n");
  const note = message.attach && large ? `\n\nThe files are too large to attach. They are in the outbox:\n${names}` : "";
  const transport = nodemailer.createTransport({ streamTransport: true, buffer: true, newline: "windows" });
  const made = await transport.sendMail({
    from: { name: ws.company, address: sender() },
    to: message.to,
    subject: fillText(message.subject, words),
    text: fillText(message.text, words) + note,
    date: ws.now(),
    messageId: `<${id}@${sender().split("@").at(-1)}>`,
    attachments: attached ? files.map((f) => ({ filename: f.name, content: f.content })) : [],
    disableUrlAccess: true,
    disableFileAccess: true,
  });
  return { content: made.message as Buffer, from: sender(), to: message.to };
}

/**
 * Sends a message as it was laid in the outbox.
 * @returns false where no mail server is set
 * @throws Error with the server's own words
 */
export async function sendMessage({ content, from, to }: MadeMessage): Promise<boolean> {
  const server = process.env.NEXT_LEDGER_SMTP;
  if (!server) return false;
  const transport = nodemailer.createTransport({ url: server, connectionTimeout: 20_000, greetingTimeout: 20_000, socketTimeout: 60_000 });
  try {
    await transport.sendMail({ envelope: { from, to }, raw: content });
    return true;
  } finally {
    transport.close();
  }
}

export type ReadMessage = { from: string; to: string[]; subject: string; date: string | null; text: string; attachments: { name: string; bytes: number }[] };

/** Reads a message that lies in the outbox. */
export async function readMessage(content: Buffer): Promise<ReadMessage> {
  const mail = await PostalMime.parse(content);
  const one = (address: { name?: string | undefined; address?: string | undefined } | undefined) =>
    address?.name ? `${address.name} <${address.address ?? ""}>` : (address?.address ?? "");
  return {
    from: one(mail.from),
    to: (mail.to ?? []).map(one),
    subject: mail.subject ?? "",
    date: mail.date ?? null,
    text: mail.text ?? "",
    attachments: mail.attachments.map((a) => ({
      name: a.filename ?? "a file",
      bytes: typeof a.content === "string" ? a.content.length : a.content.byteLength,
    })),
  };
}
