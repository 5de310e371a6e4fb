import { z } from "zod";
import { ROLES } from "@/core/people/roles";

/** At least so long; what it is made of is left to its owner (common practice, after NIST SP 800-63B). */
export const passwordSchema = z.string().min(10, "A password needs at least 10 characters.").max(500);
export const loginSchema = z
  .string()
  .trim()
  .regex(/^[^\s@]+(@[^\s@]+)?$/, "A sign-in name has no spaces.")
  .max(200);
const name = z.string().trim().min(1, "Enter a name.").max(200);

export const newPersonSchema = z.object({ login: loginSchema, name, role: z.enum(ROLES), knownAs: z.string().max(200), password: passwordSchema });
export const personChangeSchema = z.object({
  name: name.optional(),
  role: z.enum(ROLES).optional(),
  knownAs: z.string().max(200).optional(),
  password: passwordSchema.optional(),
  blocked: z.boolean().optional(),
});
