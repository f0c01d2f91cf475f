import { Button, Modal } from 'react-bootstrap';
import { SHORTCUTS } from './shortcuts';

/** Every shortcut there is. */
export function ShortcutList({ onClose }: { readonly onClose: () => void }) {
  return (
    <Modal show centered onHide={onClose} aria-label="Shortcuts">
      <Modal.Body>
        <h2>Shortcuts</h2>
        <table className="plain">
          <tbody>
            {SHORTCUTS.map(([keys, does]) => (
              <tr key={keys}>
                <td>
                  <kbd>{keys}</kbd>
                </td>
                <td>{does}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onClose} autoFocus>
          Close
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
