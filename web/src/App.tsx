/** The frame: who is logged in, and the places. */
import { Spacer } from "./ui/Row";
import { Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, Navigate, Route, Routes, useLocation } from "react-router";
import { useLogout } from "./api/changes";
import { chooseUnit } from "./api/habits";
import { useWatch } from "./api/progress";
import { queries } from "./api/queries";
import { Desk } from "./desk/Desk";
import { HelpButton, HelpProvider } from "./help/Help";
import { useHelp } from "./help/useHelp";
import { Login } from "./people/Login";
import { soon } from "./ui/soon";
import type { Unit } from "./ui/lengths";
import { learnUnit, useUnit } from "./ui/unit";
import { common } from "./texts/common";
import { app as say } from "./texts/app";

// The Desk is there at once; every other place when it is opened, or as soon as nothing else is to be done.
const Guide = soon(() => import("./shelf/guide/Guide").then((room) => room.Guide));
const Join = soon(() => import("./people/Join").then((room) => room.Join));
const Alike = soon(() => import("./pile/Alike").then((room) => room.Alike));
const Customers = soon(() => import("./customers/Customers").then((room) => room.Customers));
const Outbox = soon(() => import("./customers/Outbox").then((room) => room.Outbox));
const Figures = soon(() => import("./figures/Figures").then((room) => room.Figures));
const Bench = soon(() => import("./bench/Bench").then((room) => room.Bench));
const Help = soon(() => import("./help/HelpPanel").then((room) => room.HelpPanel));
const JobPage = soon(() => import("./job/JobPage").then((room) => room.JobPage));
const Password = soon(() => import("./people/Password").then((room) => room.Password));
const SharedPage = soon(() => import("./shared/SharedPage").then((room) => room.SharedPage));
const Tablet = soon(() => import("./tablet/Tablet").then((room) => room.Tablet));
const ShelfPage = soon(() => import("./shelf/ShelfPage").then((room) => room.ShelfPage));

const PLACES = [
  ["/", say.desk],
  ["/customers", say.customers],
  ["/shelf", say.shelf],
  ["/bench", say.bench],
  ["/figures", say.figures],
] as const;

export function App() {
  const me = useQuery(queries.me());
  const { pathname } = useLocation();
  const token = /^\/join\/([^/]+)$/.exec(pathname)?.[1];
  if (me.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (token) return <Join token={token} />;
  if (me.isError) return <Login />;
  if (/^\/cutter(\/|$)/.test(pathname))
    return (
      <HelpProvider>
        <Routes>
          <Route path="/cutter/:code?" element={<Tablet />} />
        </Routes>
      </HelpProvider>
    );
  return <House name={me.data.name} unit={me.data.unit} />;
}

function House({ name, unit }: { name: string; unit: Unit }) {
  const logout = useLogout();
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  useWatch();
  useEffect(() => learnUnit(unit), [unit]);
  useUnitShown();
  return (
    <HelpProvider>
      <Stack sx={{ height: "100vh" }}>
        <Stack
          component="header"
          direction="row"
          sx={{ alignItems: "center", px: 2, height: 44, bgcolor: "background.paper", gap: 1 }}
        >
          <Typography sx={{ fontWeight: 700, letterSpacing: 0.5, mr: 2 }}>{say.horismos}</Typography>
          <Stack component="nav" aria-label={say.placesLabel} direction="row" sx={{ gap: 1 }}>
            {PLACES.map(([to, words]) => {
              const here =
                to === "/"
                  ? pathname === "/" || ["/jobs", "/shared", "/alike"].some((one) => pathname.startsWith(one))
                  : pathname.startsWith(to) || (to === "/customers" && pathname.startsWith("/letters"));
              return (
                <Button
                  key={to}
                  component={Link}
                  to={to}
                  aria-current={here ? "page" : undefined}
                  sx={{ borderBottom: here ? 2 : 0, borderRadius: 0 }}
                >
                  {words}
                </Button>
              );
            })}
          </Stack>
          <Spacer />
          <HelpButton />
          <UnitSwitch />
          <Button color="inherit" onClick={() => setOpen(true)} title={say.changeYourPassword}>
            {name}
          </Button>
          {open && <Password onClose={() => setOpen(false)} />}
          <Button onClick={() => logout.mutate(undefined)}>{say.logOut}</Button>
        </Stack>
        <Box sx={{ flex: 1, minHeight: 0, display: "flex" }}>
          <HelpBeside />
          <Box component="main" sx={{ flex: 1, minWidth: 0, minHeight: 0, overflow: "auto" }}>
            <Routes>
              <Route path="/" element={<Home />} />
              <Route path="/jobs/:id/:station?" element={<JobPage />} />
              <Route path="/alike" element={<Alike />} />
              <Route path="/customers/:name?" element={<Customers />} />
              <Route path="/letters" element={<Outbox />} />
              <Route path="/figures" element={<Figures />} />
              <Route path="/shared/:id" element={<SharedPage />} />
              <Route path="/bench" element={<Bench />} />
              <Route path="/shelf/:page?/:thing?" element={<ShelfPage />} />
              <Route path="/begin" element={<Guide />} />
              <Route path="*" element={<Typography sx={{ p: 4 }}>{say.thereIsNothingHereGo}</Typography>} />
            </Routes>
          </Box>
        </Box>
      </Stack>
    </HelpProvider>
  );
}

/** The Desk; in a shop that is not set up yet, whoever may do that is led through it. */
function Home() {
  const me = useQuery(queries.me());
  const shop = useQuery(queries.shop());
  if (shop.data && !shop.data.begun && me.data?.rights.includes("edit-shelf"))
    return <Navigate to="/begin" replace />;
  return <Desk />;
}

/** Nothing of the help is fetched before somebody asks for it. */
function HelpBeside() {
  return useHelp().entry === null ? null : <Help />;
}

function UnitSwitch() {
  const unit = useUnit();
  return (
    <Button
      color="inherit"
      title={say.seeLengthsInTheOther}
      aria-label={say.lengthsInChangeTo(unit === "mm")}
      onClick={() => chooseUnit(unit === "mm" ? "in" : "mm")}
    >
      {unit === "mm" ? "mm" : "inches"}
    </Button>
  );
}

/** What is shown is said anew when the person sees lengths in another unit. */
function useUnitShown() {
  const client = useQueryClient();
  const unit = useUnit();
  const last = useRef(unit);
  useEffect(() => {
    if (last.current === unit) return;
    last.current = unit;
    void client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== "me" });
  }, [client, unit]);
}
