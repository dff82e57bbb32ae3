import { FileUp } from "lucide-react";
import type { Kind } from "../api/types";
import { useCatalogue } from "../api/useCatalogue";
import { GrownPicture } from "../controls/GrownPicture";
import type { KindSchema } from "../controls/schema";

interface Props {
  kinds: Kind[];
  onChoose: (kind: Kind) => void;
}

/** The kinds of step with a picture of what each does, by what they are for. */
export function KindList({ kinds, onChoose }: Props) {
  const { groups } = useCatalogue();
  return (
    <div className="space-y-2">
      {groups.map(({ name: group, title }) => {
        const members = kinds.filter((kind) => kind.group === group);
        if (members.length === 0) return null;
        return (
          <section key={group}>
            <h3 className="text-base-content/80 text-xs font-semibold">{title}</h3>
            <ul className="grid grid-cols-2 gap-1">
              {members.map((kind) => (
                <li key={kind.kind}>
                  <button
                    type="button"
                    className="hover:bg-base-200 focus:bg-base-200 flex w-full gap-2 rounded p-1.5 text-left"
                    data-testid={`add-${kind.kind}`}
                    onClick={() => onChoose(kind)}
                  >
                    {!kind.has_picture ? (
                      <span className="bg-base-300 grid h-14 w-20 shrink-0 place-items-center rounded-sm">
                        <FileUp size={16} />
                      </span>
                    ) : (
                      <GrownPicture
                        src={`/api/kinds/${kind.kind}/picture.png`}
                        className="h-14 w-20 shrink-0 rounded-sm object-cover"
                      />
                    )}
                    <span className="min-w-0">
                      <span className="block text-sm font-medium">{kind.title}</span>
                      <span className="text-base-content/80 line-clamp-2 text-xs">
                        {(kind.schema as KindSchema).description}
                      </span>
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
