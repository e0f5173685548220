import { Modal, Table } from "@mantine/core";
import { Link } from "react-router";
import { benches } from "../benches/registry";
import { BenchHelp } from "./BenchHelp";
import "./laterStyles";

const keys = [
  ["?", "this list"],
  ["G", "start: every job of the trade"],
  ["U", "units"],
  ...benches.flatMap((b) => (b.loose.key ? [[b.loose.key.toUpperCase(), b.loose.keyWords ?? b.title]] : [])),
  ["Arrow keys, Enter", "on a unit's machine: follow the power, pick a part, open it"],
  ["Esc", "close; a count in progress is saved"],
  ...benches.flatMap((b) => b.keys),
];

/** What keys do, everywhere and on each bench. */
export function KeysList({ onClose }: { onClose: () => void }) {
  return (
    <Modal opened onClose={onClose} title="Help and keys" size="lg">
      <BenchHelp />
      <p>
        <Link to="/words" onClick={onClose}>
          Words of the trade
        </Link>
        , each with a picture and a sentence.{" "}
        <Link to="/phones" onClick={onClose}>
          Zorvel on phones and tablets
        </Link>
        .
      </p>
      <Table>
        <Table.Tbody>
          {keys.map(([key, what]) => (
            <Table.Tr key={key}>
              <Table.Td>
                <kbd>{key}</kbd>
              </Table.Td>
              <Table.Td>{what}</Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </Modal>
  );
}
