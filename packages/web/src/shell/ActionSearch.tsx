import { Command } from 'cmdk';
import { useNavigate } from 'react-router';
import { NEW_MODEL } from '../storage/new-model.ts';
import { chooseFile } from '../session/taken-files.ts';
import { live } from '../simulation/live-handle.ts';
import { repository } from '../storage/repository.ts';
import { interfaceActions, MANUAL_BEGINNING } from '../store/interface-slice.ts';
import { VIEWS } from '../store/project-slice.ts';
import { store, useAppDispatch, useAppSelector } from '../store/store.ts';
import { VIEW_TITLES } from './TopStrip.tsx';

interface Action {
  readonly name: string;
  readonly keys?: string;
  readonly act: () => void;
}

/** Every action by its name, with Ctrl K. */
export function ActionSearch() {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const open = useAppSelector((state) => state.interface.searchOpen);
  const { theme, ribbonFolded } = useAppSelector((state) => state.interface);
  const id = useAppSelector((state) => state.project.id);
  const close = (): void => void dispatch(interfaceActions.searchOpened(false));

  const openManual = (section: string): void => void dispatch(interfaceActions.manualOpened({ section }));
  const actions: Action[] = [
    ...VIEWS.map((view) => ({
      name: `Go to ${VIEW_TITLES[view]}`,
      act: () => void navigate(`/project/${id}/${view}`),
    })),
    { name: 'Play or pause', keys: 'Space', act: () => live.play(!store.getState().watch.playing) },
    { name: 'One step', keys: '.', act: () => live.oneStep() },
    {
      name: 'Start the run again',
      act: () => live.restart(store.getState().watch.seed, store.getState().watch.values),
    },
    {
      name: theme === 'paper' ? 'Theme: dusk' : 'Theme: paper',
      act: () => void dispatch(interfaceActions.themeChosen(theme === 'paper' ? 'dusk' : 'paper')),
    },
    {
      name: ribbonFolded ? 'Unfold the ribbon' : 'Fold the ribbon',
      act: () => void dispatch(interfaceActions.ribbonFolded(!ribbonFolded)),
    },
    { name: 'Put the cards over the space back', act: () => void dispatch(interfaceActions.cardsPutBack()) },
    { name: 'Bring in a map, a transit feed or a table', act: chooseFile },
    {
      name: 'New project',
      act: () => void repository.addProject('New model', NEW_MODEL).then((row) => navigate(`/project/${row.id}/build`)),
    },
    { name: 'All projects', act: () => void navigate('/projects') },
    { name: 'Manual', keys: 'F1', act: () => openManual(MANUAL_BEGINNING.section) },
    { name: 'Manual: twelve recipes', act: () => openManual('recipes#twelve-recipes') },
    { name: 'Manual: what the numbers mean', act: () => openManual('statistics#what-the-numbers-mean') },
    { name: 'Manual: the language', act: () => openManual('language#the-model-language') },
    { name: 'Help', act: () => void dispatch(interfaceActions.helpOpened(true)) },
  ];
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(next) => dispatch(interfaceActions.searchOpened(next))}
      label="Find anything"
      overlayClassName="fixed inset-0 z-40 bg-black/30"
      contentClassName="card fixed top-24 left-1/2 z-50 w-[480px] -translate-x-1/2 overflow-hidden"
    >
      <Command.Input
        placeholder="Find an action ..."
        className="w-full border-b border-line bg-sheet px-4 py-3 text-lg outline-none"
      />
      <Command.List className="max-h-80 overflow-auto p-2">
        <Command.Empty className="p-3 text-faint">No action has such a name.</Command.Empty>
        {actions.map((action) => (
          <Command.Item
            key={action.name}
            className="flex justify-between rounded-sm px-3 py-1.5 data-[selected=true]:bg-wash"
            onSelect={() => {
              close();
              action.act();
            }}
          >
            <span>{action.name}</span>
            {action.keys && <kbd className="font-body text-faint">{action.keys}</kbd>}
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
