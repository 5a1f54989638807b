import { ActionIcon, Tooltip, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconKeyboard, IconMoon, IconSun } from '@tabler/icons-react';
import { type Me, type Role, reaches } from '@tonos/contract';
import { useEffect } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, Outlet, useLocation, useNavigate } from 'react-router';
import { api } from '../api/api.ts';
import { useServerEvents } from '../api/use-server-events.ts';
import { ListeningStrip } from '../listening/ListeningStrip.tsx';
import { takeModules } from '../modules/index.ts';
import { useMe } from '../people/use-me.ts';
import { useBeingThere } from '../people/use-presence.ts';
import { ThumbIndex } from '../thumb-index/index.ts';
import { NameMark } from '../ui/NameMark.tsx';
import { useKeysStay } from '../ui/use-keys-stay.ts';
import { UploadLines } from '../uploads/index.ts';
import { Content } from './Content.tsx';
import { KeyHelp } from './KeyHelp.tsx';
import classes from './Shell.module.css';

interface Place {
  to: string;
  label: string;
  below: string;
  /** A page that belongs to it and lies elsewhere. */
  also?: string;
  /** Only where several work. */
  isShared?: boolean;
  least?: Role;
}

const PLACES: readonly Place[] = [
  { to: '/', label: 'Today', below: '/today' },
  { to: '/titles', label: 'Titles', below: '/titles', also: '/outside' },
  { to: '/chains', label: 'Chains', below: '/chains', also: '/modules' },
  { to: '/targets', label: 'Targets', below: '/targets' },
  { to: '/runs', label: 'Runs', below: '/runs' },
  { to: '/people', label: 'People', below: '/people', isShared: true },
  { to: '/storage', label: 'Storage', below: '/storage', least: 'owner' },
  { to: '/trash', label: 'Trash', below: '/trash' },
];

const isOffered = ({ isShared, least }: Place, me: Me | undefined): boolean =>
  (!isShared || me?.shared === true) && (!least || !me || reaches(me.role, least));

/** What the library holds is known to every page. */
function useModulesOfLibrary(): void {
  const { data } = api.useModulesQuery();
  useEffect(() => {
    if (data) takeModules(data);
  }, [data]);
}

/** Leads to the notes that name who is here; how many there are stands beside it. */
function ForYouLink() {
  const { data = [] } = api.useOpenForMeQuery();
  const { pathname } = useLocation();
  return (
    <Link to="/for-you" className={classes.you} aria-current={pathname === '/for-you' ? 'page' : undefined}>
      For you{data.length > 0 && <strong> {data.length}</strong>}
    </Link>
  );
}

/** What stays around every page: name mark, places, the listening strip. */
export function Shell() {
  useKeysStay();
  useServerEvents();
  useBeingThere();
  const me = useMe();
  useModulesOfLibrary();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [help, { open, close }] = useDisclosure(false);
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme();
  useHotkeys('?', open, { useKey: true });
  useHotkeys('g>d', () => void navigate('/'));
  useHotkeys('g>t', () => void navigate('/titles'));
  useHotkeys('g>c', () => void navigate('/chains'));
  useHotkeys('g>a', () => void navigate('/targets'));
  useHotkeys('g>r', () => void navigate('/runs'));
  useHotkeys('g>s', () => void navigate('/storage'));
  useHotkeys('g>x', () => void navigate('/trash'));
  const other = scheme === 'dark' ? 'light' : 'dark';
  return (
    <div className={classes.shell}>
      <a className={classes.skip} href="#content">
        To the page
      </a>
      <nav className={classes.bar} aria-label="Places">
        <Link to="/" className={classes.mark} aria-label="Tonos, today">
          <NameMark />
        </Link>
        {PLACES.filter((place) => isOffered(place, me)).map(({ to, label, below, also }) => (
          <Link
            key={to}
            to={to}
            className={classes.place}
            aria-current={pathname === to || pathname === also || pathname.startsWith(below) ? 'page' : undefined}
          >
            {label}
          </Link>
        ))}
        <span className={classes.space} />
        {me?.shared && <ForYouLink />}
        {me?.shared && (
          <Link to="/you" className={classes.you} aria-current={pathname === '/you' ? 'page' : undefined}>
            {me.name} <span className="quiet">{me.role}</span>
          </Link>
        )}
        <Tooltip label={`Change to the ${other} theme`}>
          <ActionIcon aria-label={`Change to the ${other} theme`} onClick={() => setColorScheme(other)}>
            {scheme === 'dark' ? <IconSun size={18} /> : <IconMoon size={18} />}
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Keys (?)">
          <ActionIcon aria-label="Keys" onClick={open}>
            <IconKeyboard size={20} />
          </ActionIcon>
        </Tooltip>
      </nav>
      <UploadLines />
      <Content>
        <Outlet />
      </Content>
      <ThumbIndex />
      <KeyHelp opened={help} onClose={close} />
      <ListeningStrip />
    </div>
  );
}
