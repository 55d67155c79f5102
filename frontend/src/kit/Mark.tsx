/** The mark: a balance whose fuller pan is the larder's. */
export function Mark({ size = 26 }: { size?: number }) {
  return <img src="/static/mark.svg" width={size} height={size} alt="" />;
}
