import { ShelfPage } from "@/ui/shelf/shelf-page";
import { readTheme } from "@/ui/theme/read-theme";

export default async function Page() {
  return <ShelfPage theme={await readTheme()} />;
}
