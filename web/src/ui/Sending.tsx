import { Button, Progress } from "antd";
import "./sending.css";

/** A long file on its way, and the way to stop it. */
export function Sending({ share, what, onCancel }: { share: number; what: string; onCancel: () => void }) {
  return (
    <div className="sending" role="status" aria-label={what}>
      <Progress percent={Math.floor(share * 100)} size="small" aria-label={what} />
      <Button size="small" onClick={onCancel}>
        Stop; nothing is kept
      </Button>
    </div>
  );
}
