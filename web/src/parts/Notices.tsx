/** Short notices at the foot of the screen, with the way back where there is one. */
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import SnackbarContent from "@mui/material/SnackbarContent";
import { useSyncExternalStore } from "react";
import { notices } from "./said";

export function Notices() {
  const { notice, open } = useSyncExternalStore(notices.subscribe, notices.snapshot);
  const action = notice?.action;
  return (
    <Snackbar
      open={open}
      autoHideDuration={9000}
      onClose={(_, why) => why !== "clickaway" && notices.close()}
    >
      <SnackbarContent
        message={notice?.sentence}
        action={
          <>
            {action && (
              <Button
                color="inherit"
                onClick={() => {
                  notices.close();
                  action.run();
                }}
              >
                {action.label}
              </Button>
            )}
            <Button color="inherit" onClick={notices.close}>
              Close
            </Button>
          </>
        }
      />
    </Snackbar>
  );
}
