/** A queue of a machine: its rows in their order, moved by dragging or by key. */
import { Box, Stack, Typography } from "@mui/material";
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { useState, type ReactNode } from "react";
import { useMove, type Which } from "../api/queueChanges";
import { ChoiceRow } from "../ui/ChoiceRow";
import { Failure } from "../help/Failure";
import { queues as say } from "../texts/queues";

export interface QueueRow {
  id: number;
  release: number;
  machine: string;
  name: string;
  says: ReactNode;
  /** Its turn, or why it has none. */
  turn: string;
  moves: boolean;
  bad: boolean;
}

interface Props {
  which: Which;
  title: string;
  rows: QueueRow[];
  isChosen: (row: QueueRow) => boolean;
  onChoose: (row: QueueRow) => void;
}

export function Queue({ which, title, rows, isChosen, onChoose }: Props) {
  const move = useMove(which);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  // a row stays where it was dropped until the server has answered
  const [order, setOrder] = useState<number[] | null>(null);
  const place = (row: QueueRow) =>
    !row.moves ? -1 : order?.includes(row.id) ? order.indexOf(row.id) : Infinity;
  const shown = order ? [...rows].sort((a, b) => place(a) - place(b)) : rows;
  const ids = shown.filter((row) => row.moves).map((row) => row.id);
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const rest = ids.filter((id) => id !== active.id);
    const down = ids.indexOf(Number(active.id)) < ids.indexOf(Number(over.id));
    const at = rest.indexOf(Number(over.id)) + (down ? 1 : 0);
    setOrder([...rest.slice(0, at), Number(active.id), ...rest.slice(at)]);
    move.mutate({ id: Number(active.id), before: rest[at] ?? null }, { onSettled: () => setOrder(null) });
  };
  return (
    <Stack component="section" aria-label={title} spacing={0.5}>
      <Typography variant="h2" sx={{ px: 1, pt: 1 }}>
        {title}
      </Typography>
      {!rows.length && (
        <Typography variant="body2" color="text.secondary" sx={{ px: 1 }}>
          {say.nothingWaits}
        </Typography>
      )}
      <Failure of={move.error} />
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={drop}
        accessibility={{ screenReaderInstructions: { draggable: say.howToMove } }}
      >
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {shown.map((row) => (
            <Sortable
              key={`${row.release} ${row.id}`}
              row={row}
              chosen={isChosen(row)}
              onChoose={() => onChoose(row)}
            />
          ))}
        </SortableContext>
      </DndContext>
    </Stack>
  );
}

function Sortable({ row, chosen, onChoose }: { row: QueueRow; chosen: boolean; onChoose: () => void }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({
      id: row.id,
      disabled: !row.moves,
    });
  return (
    <Box
      ref={setNodeRef}
      data-queued={row.id}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      sx={{
        display: "flex",
        alignItems: "stretch",
        position: "relative",
        zIndex: isDragging ? 1 : undefined,
      }}
    >
      {row.moves ? (
        <Box
          component="button"
          type="button"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={say.moveIt(row.name)}
          sx={{
            width: 28,
            flex: "none",
            border: 0,
            p: 0,
            cursor: "grab",
            bgcolor: "transparent",
            touchAction: "none",
            color: "#555",
          }}
        >
          ⠿
        </Box>
      ) : (
        <Box sx={{ width: 28, flex: "none" }} />
      )}
      <ChoiceRow
        name={
          <Stack direction="row" spacing={1}>
            <span style={{ flex: 1 }}>{row.name}</span>
            <Typography
              component="span"
              variant="body2"
              sx={{ fontWeight: 600, color: row.bad ? "error.main" : "#333" }}
            >
              {row.turn}
            </Typography>
          </Stack>
        }
        chosen={chosen}
        onChoose={onChoose}
      >
        {row.says}
      </ChoiceRow>
    </Box>
  );
}
