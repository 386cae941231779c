/** The settings of a mend as fields: with their units and ranges, empty where the shipped value stands. */
import { MenuItem, Stack, TextField } from "@mui/material";
import type { Mend, MendKnown, Setting } from "../../api/client";
import { LengthField } from "../../ui/LengthField";
import { counted } from "../../ui/lengths";
import { ROLES } from "../../ui/roles";
import { mending as say } from "../../texts/mending";

export type Settings = Mend["settings"];

/** What a field holds, as a person writes it. */
const written = (value: Settings[string] | undefined): string =>
  value === undefined
    ? ""
    : Array.isArray(value)
      ? value.map((one) => (Array.isArray(one) ? one.join(" ") : one)).join("; ")
      : String(value);

/** What a person wrote, as the mend takes it; undefined for nothing. */
export function read(setting: Setting, text: string): Settings[string] | undefined {
  const bare = text.trim();
  if (!bare) return undefined;
  if (setting.kind === "number") return counted(bare) ?? undefined;
  const numbers = (part: string) =>
    part
      .trim()
      .split(/[\s]+/)
      .map((one) => Number(one.replace(",", ".")));
  if (setting.kind === "colour") return bare.split(/[;\s]+/).map((one) => Number(one.replace(",", ".")));
  if (setting.kind === "points") return bare.split(";").map(numbers);
  return bare;
}

const range = (setting: Setting) =>
  setting.kind === "number"
    ? setting.most === null
      ? say.from(setting.least)
      : say.to(setting.least, setting.most)
    : { colour: say.cMYKOr, points: "x y; x y; … in mm" }[setting.kind];

/** Whether every field holds something that can be meant. */
export const sound = (known: MendKnown, settings: Settings): boolean =>
  known.settings.every((setting) => {
    const value = settings[setting.name];
    if (value === undefined) return setting.optional || setting.default !== null;
    if (setting.kind === "number")
      return (
        typeof value === "number" &&
        value >= setting.least &&
        (setting.most === null || setting.most === undefined || value <= setting.most)
      );
    return Array.isArray(value) ? value.flat().every(Number.isFinite) : true;
  });

interface Props {
  known: MendKnown;
  settings: Settings;
  onChange: (next: Settings) => void;
}

export function SettingFields({ known, settings, onChange }: Props) {
  const set = (setting: Setting, text: string) => {
    const value = read(setting, text);
    const rest = Object.fromEntries(Object.entries(settings).filter(([name]) => name !== setting.name));
    onChange(value === undefined ? rest : { ...rest, [setting.name]: value });
  };
  return (
    <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap", mt: 1 }}>
      {known.settings.map((setting) => (
        <Field
          key={setting.name}
          setting={setting}
          value={settings[setting.name]}
          onChange={(text) => set(setting, text)}
        />
      ))}
    </Stack>
  );
}

function Field({
  setting,
  value,
  onChange,
}: {
  setting: Setting;
  value: Settings[string] | undefined;
  onChange: (text: string) => void;
}) {
  const label = setting.unit ? `${setting.words}, ${setting.unit}` : setting.words;
  const choices =
    setting.kind === "role"
      ? Object.entries(ROLES).map(([role, look]) => [role, look.words] as const)
      : setting.kind === "choice"
        ? setting.options.map((option) => [option, option] as const)
        : null;
  if (choices)
    return (
      <TextField
        select
        label={label}
        value={written(value) || (setting.default ?? "")}
        onChange={(e) => onChange(e.target.value)}
        sx={{ width: 200 }}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      >
        {setting.optional && <MenuItem value="">{say.allOfThem}</MenuItem>}
        {choices.map(([id, words]) => (
          <MenuItem key={id} value={id}>
            {words}
          </MenuItem>
        ))}
      </TextField>
    );
  if (setting.kind === "number" && setting.unit === "mm")
    return (
      <LengthField
        label={setting.words}
        value={value as number | undefined}
        shippedMm={typeof setting.default === "number" ? setting.default : undefined}
        least={setting.least}
        most={setting.most ?? undefined}
        onChange={(mm) => onChange(mm === null ? "" : String(mm))}
        sx={{ width: 200 }}
      />
    );
  return (
    <TextField
      label={label}
      key={setting.name}
      defaultValue={written(value)}
      placeholder={setting.default === null || setting.default === undefined ? "" : String(setting.default)}
      helperText={range(setting)}
      onChange={(e) => onChange(e.target.value)}
      sx={{ width: setting.kind === "number" ? 200 : 344 }}
      slotProps={{
        inputLabel: { shrink: true },
        htmlInput: { inputMode: setting.kind === "number" ? "decimal" : "text" },
      }}
    />
  );
}
