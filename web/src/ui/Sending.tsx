import { Button } from "antd";
import "./sending.css";

/** A long file on its way, and the way to stop it. */
export function Sending({ share, what, onCancel }: { share: number; what: string; onCancel: () => void }) {
  return (
    <div className="sending" role="status" aria-label={what}>
      <progress value={share} max={1} aria-label={what} />
      <span className="figures">{Math.floor(share * 100)} %</span>
      <Button size="small" onClick={onCancel}>
        Stop; nothing is kept
      </Button>
    </div>
  );
}
