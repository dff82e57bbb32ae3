import { useEffect, useRef } from "react";
import { KEYS } from "./useKeys";
import { changeView, useView } from "./view";

/** Keys, and the four words one needs. */
export function HelpSheet() {
  const open = useView((view) => view.help);
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    if (open) dialog.current?.showModal();
    else dialog.current?.close();
  }, [open]);
  return (
    <dialog
      ref={dialog}
      className="modal"
      aria-label="Help"
      onClose={() => changeView({ help: false })}
    >
      <div className="modal-box max-w-xl">
        <h2 className="mb-2 text-lg font-semibold">Help</h2>
        <p className="text-sm">
          A landscape is a recipe that grows. The <b>column</b> on the left is the recipe, its
          newest step on top; open a band to change it. The land grows anew with every change. The{" "}
          <b>legend</b> in stage Ground says what lies where. The <b>section</b> below is a cut
          through the land. Every edit is kept at once and can be undone, also tomorrow.
        </p>
        <table className="table-sm mt-3 table">
          <tbody>
            {KEYS.map(([keys, meaning]) => (
              <tr key={keys}>
                <td className="w-52 font-medium">{keys}</td>
                <td>{meaning}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <form method="dialog" className="modal-action">
          <button className="btn btn-sm">Close</button>
        </form>
      </div>
      <form method="dialog" className="modal-backdrop">
        <button aria-label="Close">close</button>
      </form>
    </dialog>
  );
}
