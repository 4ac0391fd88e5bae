import { ActionIcon, Alert, Menu, SegmentedControl, Tooltip, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import {
  IconArchive,
  IconBuildingBridge2,
  IconWheel,
  IconMoon,
  IconPackageExport,
  IconPlayerTrackNext,
  IconRulerMeasure,
  IconSun,
  IconVectorSpline,
  IconZoomScan,
} from '@tabler/icons-react';
import { NavLink, Outlet } from 'react-router';
import { ArchiveDialog } from './archive-dialog.tsx';
import { BeginLine } from './begin-line.tsx';
import { JobPanel } from './jobs.tsx';
import { geometryClient } from '../workers/geometry-client.ts';
import { unitChosen } from './session-slice.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { useOpenFiles } from './use-open-files.ts';

const AREAS = [
  { to: '/shelf', label: 'Shelf', icon: IconArchive },
  { to: '/bench', label: 'Bench', icon: IconZoomScan },
  { to: '/outline', label: 'Outline', icon: IconVectorSpline },
  { to: '/build', label: 'Build', icon: IconBuildingBridge2 },
  { to: '/carrier', label: 'Carrier', icon: IconWheel },
  { to: '/trial', label: 'Trial', icon: IconPlayerTrackNext },
  { to: '/handover', label: 'Handover', icon: IconPackageExport },
];

// What is on its way to the storage, where that takes a while.
function Unwritten() {
  const count = useAppSelector((s) => s.session.unwritten);
  return (
    <div role="status" className="rail-unwritten">
      {count > 0 && (
        <Tooltip label="They are in this tab. When this is gone, they are in the browser’s storage too." position="right">
          <span>{count.toLocaleString('en')} to store</span>
        </Tooltip>
      )}
    </div>
  );
}

/** The frame around every area: the rail in working order, dropping files anywhere, running jobs, what could not be saved. */
export function Shell() {
  const dispatch = useAppDispatch();
  const unit = useAppSelector((s) => s.session.unit);
  const fault = useAppSelector((s) => s.session.saveFault);
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme('light');
  const open = useOpenFiles();
  return (
    <div className="shell">
      <a href="#main" className="skip-link">
        Skip to the work
      </a>
      <nav className="rail" aria-label="Areas">
        <img src="/mark.svg" alt="Ruota" className="mark" width={34} height={34} />
        {AREAS.map(({ to, label, icon: Icon }) => (
          <NavLink key={to} to={to} className="rail-link">
            <Icon size={20} stroke={1.6} />
            {label}
          </NavLink>
        ))}
        <div className="rail-foot">
          <Unwritten />
          <Menu position="right-end">
            <Menu.Target>
              <Tooltip label="Shown unit" position="right">
                <ActionIcon variant="subtle" color="gray" size="lg" aria-label={`Shown unit: ${unit}`}>
                  <IconRulerMeasure size={19} stroke={1.6} />
                </ActionIcon>
              </Tooltip>
            </Menu.Target>
            <Menu.Dropdown p="xs">
              <SegmentedControl size="xs" aria-label="Shown unit" data={['mm', 'inch']} value={unit} onChange={(u) => dispatch(unitChosen(u))} />
            </Menu.Dropdown>
          </Menu>
          <Tooltip label={scheme === 'dark' ? 'Light' : 'Dark'} position="right">
            <ActionIcon
              variant="subtle"
              color="gray"
              size="lg"
              aria-label={scheme === 'dark' ? 'Switch to light' : 'Switch to dark'}
              onClick={() => setColorScheme(scheme === 'dark' ? 'light' : 'dark')}
            >
              {scheme === 'dark' ? <IconSun size={19} stroke={1.6} /> : <IconMoon size={19} stroke={1.6} />}
            </ActionIcon>
          </Tooltip>
        </div>
      </nav>
      <main id="main">
        {fault && (
          <Alert color="brick" title="Not saved" className="save-fault">
            This browser could not store the last changes ({fault}). They are kept in this tab and tried again; write a package to be safe, or free some space.
          </Alert>
        )}
        <BeginLine />
        <Outlet />
        <Dropzone.FullScreen withinPortal={false} onDragEnter={() => geometryClient.warmNow()} onDrop={open} accept={undefined} maxSize={undefined} multiple>
          <div className="drop-target">Drop models, drawings, pictures, a zip of them, or a package</div>
        </Dropzone.FullScreen>
      </main>
      <ArchiveDialog />
      <JobPanel />
    </div>
  );
}
