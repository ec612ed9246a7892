/** Short notices at the foot of the screen, with the way back where there is one. */
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import SnackbarContent from "@mui/material/SnackbarContent";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { greys } from "../theme/theme";

interface Notice {
  sentence: string;
  action?: { label: string; run: () => void };
}

const Context = createContext<(notice: Notice) => void>(() => undefined);

/** Say something once. */
export const useNotice = () => useContext(Context);

export function Notices({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const [open, setOpen] = useState(false);
  const say = useCallback((next: Notice) => {
    setNotice(next);
    setOpen(true);
  }, []);
  const action = notice?.action;
  return (
    <Context value={say}>
      {children}
      <Snackbar
        open={open}
        autoHideDuration={9000}
        onClose={(_, why) => why !== "clickaway" && setOpen(false)}
      >
        <SnackbarContent
          message={notice?.sentence}
          sx={{ bgcolor: greys.ink, color: "#fff", fontSize: 15, maxWidth: 620 }}
          action={
            <>
              {action && (
                <Button
                  sx={{ color: "#fff" }}
                  onClick={() => {
                    setOpen(false);
                    action.run();
                  }}
                >
                  {action.label}
                </Button>
              )}
              <Button sx={{ color: "#fff" }} onClick={() => setOpen(false)}>
                Close
              </Button>
            </>
          }
        />
      </Snackbar>
    </Context>
  );
}
