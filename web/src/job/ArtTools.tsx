/** What of the artwork the stage shows: the mode, which lines, the boxes, and the size panel. */
import { Button, MenuItem, TextField, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { ROLES } from "../ui/roles";
import { MODES, type Mode } from "./modes/useModes";
import { job as say } from "../texts/job";

interface Props {
  mode: Mode;
  onMode: (next: Mode) => void;
  lines: string;
  roles: string[];
  /** Whether the mode, or the station, says which lines are shown. */
  fixed: boolean;
  onLines: (next: string) => void;
  boxes: boolean;
  onBoxes: (on: boolean) => void;
  /** Null where the size is not for now. */
  sizing: boolean | null;
  onSizing: (on: boolean) => void;
}

export function ArtTools({ mode, onMode, lines, roles, fixed, onLines, ...switches }: Props) {
  return (
    <>
      <ToggleButtonGroup
        size="small"
        exclusive
        value={mode}
        onChange={(_, next: Mode | null) => next && onMode(next)}
        aria-label={say.whatTheStageShows}
      >
        {MODES.map(([value, words], i) => (
          <ToggleButton
            key={value}
            value={value}
            title={say.key(i + 1)}
            sx={{ whiteSpace: "nowrap", py: 0.25, px: 0.6 }}
          >
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <WhichLines value={lines} roles={roles} disabled={fixed} onChoose={onLines} />
      <Switch on={switches.boxes} onSwitch={switches.onBoxes} words={say.boxes} />
      {switches.sizing !== null && (
        <Switch on={switches.sizing} onSwitch={switches.onSizing} words={say.size} />
      )}
    </>
  );
}

function Switch({ on, onSwitch, words }: { on: boolean; onSwitch: (on: boolean) => void; words: string }) {
  return (
    <Button
      variant={on ? "contained" : "outlined"}
      aria-pressed={on}
      onClick={() => onSwitch(!on)}
      sx={{ px: 0.75, minWidth: 0 }}
    >
      {words}
    </Button>
  );
}

interface WhichProps {
  value: string;
  roles: string[];
  disabled: boolean;
  onChoose: (lines: string) => void;
}

function WhichLines({ value, roles, disabled, onChoose }: WhichProps) {
  return (
    <TextField
      select
      value={value}
      onChange={(e) => onChoose(e.target.value)}
      disabled={disabled}
      slotProps={{ htmlInput: { "aria-label": say.whichLines }, select: { sx: { fontSize: 13 } } }}
      sx={{ width: 122, "& .MuiSelect-select": { py: 0.5 } }}
    >
      <MenuItem value="all">{say.artAndLines}</MenuItem>
      <MenuItem value="none">{say.artAlone}</MenuItem>
      <MenuItem value="alone">{say.linesAlone}</MenuItem>
      {roles.map((role) => (
        <MenuItem key={role} value={role}>
          {say.withIt(ROLES[role]?.words ?? role)}
        </MenuItem>
      ))}
    </TextField>
  );
}
