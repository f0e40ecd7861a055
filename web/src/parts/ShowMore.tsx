import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";

interface Pages {
  hasNextPage: boolean;
  isFetchingNextPage: boolean;
  fetchNextPage: () => Promise<unknown>;
}

/** The way to the next page of a list that is paged by key; nothing where there is none. */
export function ShowMore({ pages }: { pages: Pages }) {
  if (!pages.hasNextPage) return null;
  return (
    <Stack sx={{ py: 2, alignItems: "flex-start" }}>
      <Button
        variant="outlined"
        disabled={pages.isFetchingNextPage}
        onClick={() => void pages.fetchNextPage()}
      >
        Show more
      </Button>
    </Stack>
  );
}
