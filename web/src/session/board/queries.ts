import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api, type Units } from "../../app/api";
import { keys } from "../../app/keys";
import { hear, oneByOne } from "../../ui/stream";

/** What a code opens; asked anew for another code. */
export function useOpened(code: string) {
  return useQuery({
    queryKey: keys.board.opened(code),
    queryFn: () => answered(api.POST("/api/v1/boards", { body: { code } })),
    enabled: code !== "",
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** What a board shows, read again whenever the server says that it changed. */
export function useBoard(board: string) {
  const queries = useQueryClient();
  const [state, setState] = useState<"live" | "away">("live");
  const shown = useQuery({
    queryKey: keys.board.shown(board),
    queryFn: () =>
      answered(api.GET("/api/v1/boards/{board}", { params: { path: { board } } })).then((view) => ({
        ...view,
        // How far this screen's clock runs ahead of the server's, ms.
        ahead: Date.now() - new Date(view.now).getTime(),
      })),
    retry: false,
  });
  useEffect(() => {
    const readAgain = oneByOne(() =>
      queries.invalidateQueries({ queryKey: keys.board.shown(board) }),
    );
    return hear(`/api/v1/boards/${board}/live`, {
      changed: readAgain,
      open: () => {
        setState("live");
        readAgain();
      },
      away: (refused) => {
        setState("away");
        if (refused) readAgain();
      },
    });
  }, [board, queries]);
  return { shown, state };
}

/** The board of a session, for whoever runs it. */
export function useBoardOf(session: string) {
  const queries = useQueryClient();
  const path = { params: { path: { session } } };
  const again = () => queries.invalidateQueries({ queryKey: keys.board.of(session) });
  const found = useQuery({
    queryKey: keys.board.of(session),
    queryFn: () => answered(api.GET("/api/v1/sessions/{session}/board", path)),
  });
  const open = useMutation({
    mutationFn: (units: Units) =>
      answered(api.PUT("/api/v1/sessions/{session}/board", { ...path, body: { units } })),
    onSuccess: again,
  });
  const close = useMutation({
    mutationFn: () => answered(api.DELETE("/api/v1/sessions/{session}/board", path)),
    onSuccess: again,
  });
  return { found, open, close };
}
