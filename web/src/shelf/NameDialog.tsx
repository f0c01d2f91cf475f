import { useId, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';

interface Props {
  readonly title: string;
  readonly initial: string;
  readonly onName: (name: string) => void;
  readonly onClose: () => void;
}

/** Ask for a name. */
export function NameDialog({ title, initial, onName, onClose }: Props) {
  const [name, setName] = useState(initial);
  const id = useId();
  return (
    <Modal show centered onHide={onClose} aria-labelledby={id}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== '') onName(name.trim());
        }}
      >
        <Modal.Body>
          <Form.Label id={id} htmlFor={`${id}-name`}>
            {title}
          </Form.Label>
          <Form.Control
            id={`${id}-name`}
            autoFocus
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" disabled={name.trim() === ''}>
            Save
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
