/** Shows a part of the house in a test: with the theme, a place in it, and questions that are asked once. */
import { ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactElement } from "react";
import { MemoryRouter } from "react-router";
import { queries } from "../api/queries";
import type { Job, Right, Work } from "../api/client";
import { theme } from "../ui/theme";

/** Shows it; gives the person before it. `works` is what runs in the shop, `place` the address, `rights` what the
 * person may do, where that is known. */
export function show(part: ReactElement, works: Work[] = [], place = "/", rights?: Right[]) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  client.setQueryData(queries.works().queryKey, works);
  if (rights)
    client.setQueryData(queries.me().queryKey, { name: "ada", rights, unit: "mm", second_step: false });
  const { job } = part.props as { job?: Job };
  if (job) client.setQueryData(queries.job(job.id).queryKey, job);
  render(
    <ThemeProvider theme={theme}>
      <QueryClientProvider client={client}>
        <MemoryRouter initialEntries={[place]}>{part}</MemoryRouter>
      </QueryClientProvider>
    </ThemeProvider>,
  );
  return userEvent.setup({ pointerEventsCheck: 0 });
}
