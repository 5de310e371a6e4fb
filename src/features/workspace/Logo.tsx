/** The company's logo, beside its name; nothing where there is none. */
export const Logo = ({ address, className }: { address: string | null; className: string }) =>
  address && (
    // biome-ignore lint/performance/noImgElement: a small picture of the workspace's own, as it was given
    <img src={address} alt="" className={`logo object-contain ${className}`} />
  );
