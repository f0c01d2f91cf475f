import { useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { Icon } from './Icon';
import { chooseTheme, currentTheme } from './theme';

/** The bar at the top of every page: the name, where one is, and the theme. */
export function TopBar({ children }: { readonly children?: ReactNode }) {
  const [theme, setTheme] = useState(currentTheme);
  const other = theme === 'light' ? 'dark' : 'light';
  return (
    <header className="top">
      <Link to="/" className="name">
        Yundro
      </Link>
      {children}
      <Button
        variant="plain"
        className={children ? '' : 'push'}
        aria-label={`Use the ${other} theme`}
        onClick={() => {
          chooseTheme(other);
          setTheme(other);
        }}
      >
        <Icon shape={other === 'dark' ? 'moon' : 'sun'} />
      </Button>
    </header>
  );
}
