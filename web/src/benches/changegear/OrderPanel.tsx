import { Button, TextInput } from "@mantine/core";
import { IconPrinter } from "@tabler/icons-react";
import type { ChangeGearsAnswer } from "../../api/client";
import classes from "./changegear.module.css";
import type { Form } from "./model";

type Props = { answer: ChangeGearsAnswer; form: Form; set: (v: Partial<Form>) => void; name: string };

/** What must be said when a unit is ordered, so that the wrong variant is not delivered. */
export function OrderPanel({ answer, form, set, name }: Props) {
  return (
    <div className="stack">
      <div className="row spread">
        <h2>Order sheet for {name}</h2>
        <Button
          className="no-print"
          variant="default"
          leftSection={<IconPrinter size={16} />}
          onClick={() => window.print()}
        >
          Print
        </Button>
      </div>
      <table className={`figures ${classes.order}`}>
        <tbody>
          {answer.order.map((l) => (
            <tr key={l.key}>
              <th scope="row">{l.what}</th>
              <td>
                {l.value || (
                  <TextInput
                    aria-label={l.what}
                    placeholder="still to be filled in"
                    value={form.order[l.key] ?? ""}
                    onChange={(e) => set({ order: { ...form.order, [l.key]: e.currentTarget.value } })}
                  />
                )}
              </td>
              <td className="dim">{l.why}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
