import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import { type FormEvent, type ReactNode, useState } from "react";
import { Trouble } from "./parts";
import { useUnsaved } from "./unsaved";

/** A form in a dialog. It asks before closing when something was typed into it. */
export function FormDialog({
  title,
  open,
  onClose,
  onSend,
  send,
  grave = false,
  busy,
  error,
  children,
}: {
  title: string;
  open: boolean;
  onClose: () => void;
  onSend: (form: FormData) => void;
  send: string;
  grave?: boolean;
  busy: boolean;
  error: unknown;
  children: ReactNode;
}) {
  const [touched, setTouched] = useState(false);
  useUnsaved(open && touched && !busy);
  function close() {
    if (touched && !window.confirm("What you have typed is not sent. Close anyway?")) return;
    setTouched(false);
    onClose();
  }
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    onSend(new FormData(event.currentTarget));
  }
  return (
    <Dialog open={open} onClose={close} className="fixed inset-0 z-20">
      <DialogBackdrop className="fixed inset-0 bg-black/50" />
      <div className="fixed inset-0 overflow-y-auto p-4">
        <div className="flex min-h-full items-center justify-center">
          <DialogPanel className="w-full max-w-lg border border-rule bg-sheet p-6 text-ink">
            <form onSubmit={submit} onChange={() => setTouched(true)} className="space-y-4">
              <DialogTitle className="font-serif text-xl font-semibold">{title}</DialogTitle>
              {children}
              {error ? <Trouble error={error} /> : null}
              <div className="flex flex-wrap justify-end gap-3">
                <button type="button" className="button" onClick={close}>
                  Cancel
                </button>
                <button
                  type="submit"
                  className="button"
                  data-kind={grave ? "grave" : "main"}
                  disabled={busy}
                >
                  {send}
                </button>
              </div>
            </form>
          </DialogPanel>
        </div>
      </div>
    </Dialog>
  );
}
