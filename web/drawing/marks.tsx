import type { Drive } from '../../core/anatomy/index.ts';
import { recessPath } from '../../core/screws/index.ts';
import { TRADE_COLOUR, type Trade } from '../trade.ts';

/** A screw seen from above, its drive as its shape. */
export function ScrewGlyph({
  x,
  y,
  r,
  drive,
  fill,
  stroke,
  standoff,
  ghost,
  mirrored,
}: {
  x: number;
  y: number;
  r: number;
  drive: Drive;
  fill: string;
  stroke: string;
  standoff?: boolean;
  ghost?: boolean;
  mirrored?: boolean;
}) {
  return (
    <g transform={`translate(${x} ${y}) scale(${mirrored ? -r : r} ${r})`}>
      {standoff ? (
        <path
          d="M-1-.58L0-1.15L1-.58V.58L0 1.15L-1 .58Z"
          fill={fill}
          stroke={stroke}
          strokeWidth={0.16}
          strokeDasharray={ghost ? '.3 .25' : undefined}
        />
      ) : (
        <circle r={1} fill={fill} stroke={stroke} strokeWidth={0.16} strokeDasharray={ghost ? '.3 .25' : undefined} />
      )}
      <path d={recessPath(drive)} fill={stroke} fillRule="evenodd" />
    </g>
  );
}

/** The mark of a step by its trade: each has a shape of its own, so that colour is never alone. */
export function TradeMark({
  trade,
  x,
  y,
  r,
  hollow,
}: {
  trade: Trade;
  x: number;
  y: number;
  r: number;
  hollow?: boolean;
}) {
  const colour = TRADE_COLOUR[trade];
  const paint = hollow
    ? { fill: 'var(--panel)', stroke: colour, strokeWidth: 1.6 }
    : { fill: colour, stroke: 'var(--panel)', strokeWidth: 1 };
  switch (trade) {
    case 'screw':
      return (
        <g>
          <circle cx={x} cy={y} r={r} {...paint} />
          <path
            d={`M${x - r * 0.55} ${y}h${r * 1.1}M${x} ${y - r * 0.55}v${r * 1.1}`}
            stroke={hollow ? colour : 'var(--panel)'}
            strokeWidth={1.3}
          />
        </g>
      );
    case 'connector':
      return <rect x={x - r * 1.15} y={y - r * 0.6} width={r * 2.3} height={r * 1.2} rx={1} {...paint} />;
    case 'bond':
      return (
        <g>
          <rect
            x={x - r * 0.9}
            y={y - r * 0.9}
            width={r * 1.8}
            height={r * 1.8}
            transform={`rotate(45 ${x} ${y})`}
            {...paint}
          />
          <path d={`M${x - r * 0.5} ${y}h${r}`} stroke={hollow ? colour : 'var(--panel)'} strokeWidth={1.2} />
        </g>
      );
    case 'part':
      return <rect x={x - r} y={y - r} width={r * 2} height={r * 2} rx={r * 0.4} {...paint} />;
    case 'heat':
      return <path d={`M${x} ${y - r * 1.2}L${x + r * 1.1} ${y + r * 0.9}H${x - r * 1.1}Z`} {...paint} />;
    case 'gate':
      return (
        <g>
          <rect x={x - r * 0.42} y={y - r * 1.6} width={r * 0.84} height={r * 3.2} rx={1} {...paint} />
        </g>
      );
    case 'test':
      return (
        <path
          d={`M${x - r} ${y}l${r * 0.75} ${r * 0.8}L${x + r} ${y - r * 0.9}`}
          fill="none"
          stroke={colour}
          strokeWidth={2.4}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      );
    default:
      return <circle cx={x} cy={y} r={r * 0.55} {...paint} />;
  }
}
