import { answerRoute } from "@/server/answers/answers";

export const POST = answerRoute("/api/query/names");
