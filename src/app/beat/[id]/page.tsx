import { readTheme } from "@/ui/theme/read-theme";
import { WorkspacePage } from "@/ui/workspace/workspace-page";

export default async function Page({ params }: { readonly params: Promise<{ readonly id: string }> }) {
  const { id } = await params;
  return <WorkspacePage beatId={id} theme={await readTheme()} />;
}
