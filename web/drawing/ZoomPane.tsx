import { Maximize, ZoomIn, ZoomOut } from 'lucide-react';
import { createContext, memo, useContext, type ReactNode } from 'react';
import { TransformComponent, TransformWrapper } from 'react-zoom-pan-pinch';

const button = 'grid size-12 place-items-center rounded-lg bg-panel/85 hover:bg-sunk';

const Shown = createContext<ReactNode>(null);
const Slot = () => useContext(Shown);

/**
 * Zooms and pans what is in it, by wheel, pinch, drag and buttons. The pane measures itself, which lays out the whole
 * page, each time it is rendered: what it shows changes beneath it without that.
 */
export default function ZoomPane({ children }: { children: ReactNode }) {
  return (
    <Shown value={children}>
      <Pane />
    </Shown>
  );
}

const Pane = memo(function Pane() {
  return (
    <TransformWrapper minScale={1} maxScale={8} doubleClick={{ disabled: true }}>
      {({ zoomIn, zoomOut, resetTransform }) => (
        <div className="relative h-full min-h-0">
          <TransformComponent wrapperClass="!h-full !w-full" contentClass="!h-full !w-full">
            <Slot />
          </TransformComponent>
          <div className="absolute top-0 right-0 grid gap-1">
            <button type="button" className={button} aria-label="Closer" onClick={() => zoomIn()}>
              <ZoomIn />
            </button>
            <button type="button" className={button} aria-label="Farther" onClick={() => zoomOut()}>
              <ZoomOut />
            </button>
            <button type="button" className={button} aria-label="Whole device" onClick={() => resetTransform()}>
              <Maximize />
            </button>
          </div>
        </div>
      )}
    </TransformWrapper>
  );
});
