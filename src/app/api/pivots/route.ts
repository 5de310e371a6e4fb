import { answerRoute } from "@/server/http/answers";

export const POST = answerRoute("/api/pivots");
