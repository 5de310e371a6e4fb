import { describe, expect, it } from "vitest";
import { jsonBody } from "./body";

const sent = (body: BodyInit | null, headers = {}) =>
  new Request("http://ledger.test/", { method: "POST", body, headers, ...(body instanceof ReadableStream ? { duplex: "half" } : {}) } as RequestInit);
const nested = (depth: number) => "[".repeat(depth) + "]".repeat(depth);

describe("what is sent to a route", () => {
  it("is read as JSON in any script, and is nothing where it is no JSON", async () => {
    expect(await jsonBody(sent('{"a":["राम",1]}'))).toEqual({ a: ["राम", 1] });
    expect(await jsonBody(sent("{not json"))).toBe(null);
    expect(await jsonBody(sent(null))).toBe(null);
  });
  it("is put together where it comes in parts that cut a letter in two", async () => {
    const bytes = new TextEncoder().encode('"Łódź"');
    const parts = new ReadableStream({
      start(controller) {
        for (const byte of bytes) controller.enqueue(Uint8Array.of(byte));
        controller.close();
      },
    });
    expect(await jsonBody(sent(parts))).toBe("Łódź");
  });
  it("is refused in words where it is too large, by what it says and by what comes", async () => {
    await expect(jsonBody(sent(`"${"x".repeat(8_000_000)}"`))).rejects.toThrow("larger than 8 MB");
    await expect(jsonBody(sent("1", { "content-length": "8000001" }))).rejects.toThrow("larger than 8 MB");
    let told = 0;
    const endless = new ReadableStream({
      pull(controller) {
        told++;
        controller.enqueue(new Uint8Array(1_000_000).fill(32));
      },
    });
    await expect(jsonBody(sent(endless))).rejects.toThrow("larger than 8 MB");
    expect(told).toBeLessThan(15);
    expect(await jsonBody(sent(`"${"x".repeat(7_999_990)}"`))).toHaveLength(7_999_990);
  });
  it("is refused in words where it is too deep, before anything walks down it", async () => {
    expect(await jsonBody(sent(nested(60)))).toBeInstanceOf(Array);
    for (const depth of [62, 200_000]) await expect(jsonBody(sent(nested(depth)))).rejects.toThrow("more than 60 levels deep");
    await expect(jsonBody(sent(`${'{"a":'.repeat(70)}1${"}".repeat(70)}`))).rejects.toThrow("more than 60 levels deep");
  });
});
