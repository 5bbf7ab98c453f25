import { backdrop, type Ctx, clouds, figure, glow, light, type Scene, scatter, shape, stroke, type TakeLook } from './brush';

const TAU = Math.PI * 2;

/** Salt pans to the horizon: low walls, light on the water, a sun. */
const pans: Scene = (ctx, t, look) => {
  const day = light(look.hour);
  backdrop(ctx, [
    [0, day.sky],
    [0.5, day.horizon],
    [0.5, day.rgb(2, 0.85)],
    [1, day.rgb(1, 0.6)],
  ]);
  const sunX = 4 + 8 * scatter(look.seed, 1);
  glow(ctx, sunX, 3.4, 4.5, 'rgb(255,224,178)', 0.8);
  glow(ctx, sunX, 3.6, 0.7, 'rgb(255,250,232)', 1);
  clouds(ctx, t, look, 0.2, 3, 0.5, 'rgb(255,236,222)');
  for (let row = 0; row < 9; row++) {
    const y = 4.6 + 0.09 * (row + 1) ** 1.9;
    stroke(ctx, -8, y, 24, y, 0.03 + row * 0.016, day.rgb(3, 0.8));
    for (let i = -10; i <= 10; i++) {
      const x = 8 + i * (0.9 + row * 0.55) + (scatter(look.seed, row) - 0.5) * 2;
      stroke(ctx, x, y, 8 + (x - 8) * 1.16, y + 0.1 * (row + 1), 0.02 + row * 0.012, day.rgb(3, 0.75));
    }
  }
  for (let i = 0; i < 90; i++) {
    const depth = scatter(look.seed, i + 300);
    const x = ((scatter(look.seed, i + 100) * 26 + t * (0.5 + depth)) % 26) - 5;
    const y = 4.8 + depth * depth * 4.6;
    const blink = 0.35 + 0.65 * Math.abs(Math.sin(t * (1.3 + depth * 2) + i));
    ctx.fillStyle = `rgba(255,240,214,${0.55 * blink * (1 - Math.min(1, Math.abs(x - sunX) / 9))})`;
    ctx.fillRect(x, y, 0.2 + depth * 0.75, 0.03 + depth * 0.035);
  }
};

/** The wind pump. One vane is missing, so that no turn of the wheel looks like another. */
const windpump: Scene = (ctx, t, look) => {
  const day = light(look.hour);
  backdrop(ctx, [
    [0, day.sky],
    [0.66, day.horizon],
    [0.66, day.land],
    [1, day.rgb(3, 0.6)],
  ]);
  clouds(ctx, t, look, -0.5, 4.2, 0.9, 'rgb(248,240,236)');
  const x = 6 + 4 * scatter(look.seed, 2);
  const dark = day.rgb(3, 0.4);
  for (const side of [-1, 1]) stroke(ctx, x + side * 1.15, 8.6, x + side * 0.16, 3.1, 0.13, dark);
  for (let i = 0; i < 5; i++) {
    const y = 8 - i * 1.05;
    const half = 1.05 - i * 0.19;
    stroke(ctx, x - half, y, x + half * 0.82, y - 1, 0.06, dark);
    stroke(ctx, x + half, y, x - half * 0.82, y - 1, 0.06, dark);
  }
  ctx.save();
  ctx.translate(x, 3);
  shape(
    ctx,
    [
      [0, -0.08],
      [2.5, -0.55],
      [2.7, 0.55],
      [0, 0.08],
    ],
    day.rgb(3, 0.55),
  );
  ctx.rotate(t * (0.85 + 0.25 * scatter(look.seed, 3)));
  for (let i = 0; i < 14; i++) {
    ctx.rotate(TAU / 15);
    const shade = 0.55 + 0.5 * Math.abs(Math.sin(i * 2.1));
    shape(
      ctx,
      [
        [0.42, -0.07],
        [2.15, -0.36],
        [2.2, 0.22],
        [0.42, 0.06],
      ],
      day.rgb(2, shade),
    );
  }
  ctx.fillStyle = dark;
  ctx.beginPath();
  ctx.arc(0, 0, 0.34, 0, TAU);
  ctx.fill();
  ctx.restore();
  grass(ctx, t, look, day.rgb(3, 0.3));
};

function grass(ctx: Ctx, t: number, look: TakeLook, colour: string): void {
  for (let i = 0; i < 120; i++) {
    const x = -4 + scatter(look.seed, i + 500) * 24;
    const height = 0.5 + scatter(look.seed, i + 700);
    const sway = 0.3 * Math.sin(t * 2.2 + x * 0.8) + 0.12 * Math.sin(t * 5 + i);
    stroke(ctx, x, 9.4, x + sway, 9.4 - height, 0.04, colour);
  }
}

/** A sluice opens; water runs in and fills the pan. */
const sluice: Scene = (ctx, t, look) => {
  const day = light(look.hour, 0.9);
  backdrop(ctx, [
    [0, day.rgb(3, 0.7)],
    [0.45, day.rgb(3, 0.9)],
    [1, 'rgb(40,58,66)'],
  ]);
  for (let row = 0; row < 4; row++)
    for (let i = 0; i < 12; i++) {
      const tone = 70 + 50 * scatter(look.seed, row * 20 + i);
      ctx.fillStyle = `rgb(${tone},${tone * 0.92},${tone * 0.82})`;
      ctx.fillRect(-3 + i * 1.9 + (row % 2) * 0.95, -0.3 + row * 0.92, 1.84, 0.86);
    }
  const open = Math.min(1.3, 0.25 + t * 0.14);
  ctx.fillStyle = 'rgb(22,22,24)';
  ctx.fillRect(6.2, 0.8, 3.6, 2.7);
  ctx.fillStyle = 'rgb(92,74,54)';
  ctx.fillRect(6, 0.6 - open, 4, 2.4);
  for (let i = 0; i < 5; i++) stroke(ctx, 6, 0.8 - open + i * 0.46, 10, 0.8 - open + i * 0.46, 0.05, 'rgb(60,46,34)');
  const fall = ctx.createLinearGradient(0, 3, 0, 6);
  fall.addColorStop(0, 'rgba(206,226,226,0.9)');
  fall.addColorStop(1, 'rgba(150,186,190,0.3)');
  ctx.fillStyle = fall;
  ctx.fillRect(6.3, 3.2, 3.4, 2.4);
  for (let i = 0; i < 60; i++) {
    const k = (scatter(look.seed, i + 60) + t * (0.8 + scatter(look.seed, i) * 0.6)) % 1;
    ctx.fillStyle = `rgba(255,255,255,${0.7 * (1 - k)})`;
    ctx.fillRect(6.3 + 3.3 * scatter(look.seed, i + 140), 3.1 + k * 2.6, 0.07, 0.4);
  }
  for (let ring = 0; ring < 13; ring++) {
    const radius = (ring * 0.9 + t * 1.15) % 11.7;
    ctx.strokeStyle = `rgba(222,238,236,${0.6 * (1 - radius / 11.7)})`;
    ctx.lineWidth = 0.05 + radius * 0.012;
    ctx.beginPath();
    ctx.ellipse(8, 6.1, radius, radius * 0.28, 0, 0, TAU);
    ctx.stroke();
  }
  const level = 8.6 - Math.min(1.6, t * 0.2);
  ctx.fillStyle = 'rgba(96,132,138,0.5)';
  ctx.fillRect(-8, level, 32, 6);
};

/** Workers rake salt into heaps. */
const raking: Scene = (ctx, t, look) => {
  const day = light(look.hour);
  backdrop(ctx, [
    [0, day.sky],
    [0.52, day.horizon],
    [0.52, day.rgb(2, 0.95)],
    [1, day.rgb(2, 0.55)],
  ]);
  clouds(ctx, t, look, 0, 3.4, 0.35, 'rgb(255,246,238)');
  const count = 3 + Math.round(scatter(look.seed, 9) * 2);
  for (let i = 0; i < 7; i++) {
    const x = -2 + i * 3.1 + scatter(look.seed, i) * 1.6;
    const size = 0.7 + scatter(look.seed, i + 30) * 0.8;
    shape(
      ctx,
      [
        [x - size * 1.4, 5.3],
        [x, 5.3 - size],
        [x + size * 1.5, 5.3],
      ],
      'rgb(240,238,232)',
    );
    shape(
      ctx,
      [
        [x, 5.3 - size],
        [x + size * 1.5, 5.3],
        [x + size * 0.4, 5.3],
      ],
      'rgb(176,178,182)',
    );
  }
  for (let i = 0; i < count; i++) {
    const phase = t * (1.15 + 0.2 * scatter(look.seed, i + 50)) + scatter(look.seed, i + 60) * 6;
    const x = ((scatter(look.seed, i + 70) * 14 + t * 0.28) % 15) - 0.2;
    const y = 6 + i * 0.7;
    ctx.globalAlpha = 0.25;
    ctx.save();
    ctx.translate(x, y);
    ctx.scale(1, -0.35);
    figure(ctx, 0, 0, 1 + i * 0.28, 0.3 + 0.25 * Math.sin(phase), Math.cos(phase), 'rgb(20,20,24)');
    ctx.restore();
    ctx.globalAlpha = 1;
    figure(ctx, x, y, 1 + i * 0.28, 0.3 + 0.25 * Math.sin(phase), Math.cos(phase), day.rgb(3, 0.36));
  }
  for (let i = 0; i < 26; i++) {
    const y = 5.5 + scatter(look.seed, i + 80) * 3.6;
    const x = -4 + scatter(look.seed, i + 90) * 24;
    stroke(ctx, x, y, x + 1.4, y, 0.03, 'rgba(255,255,255,0.5)');
  }
};

/** Gulls turn over the water. */
const gulls: Scene = (ctx, t, look) => {
  const day = light(look.hour, 1.05);
  backdrop(ctx, [
    [0, day.sky],
    [0.72, day.horizon],
    [0.72, day.rgb(1, 0.7)],
    [1, day.rgb(1, 0.4)],
  ]);
  clouds(ctx, t, look, -0.5, 5, 0.7, 'rgb(252,248,244)');
  for (let i = 0; i < 13; i++) {
    const depth = 0.35 + scatter(look.seed, i) * 1.15;
    const way = scatter(look.seed, i + 10) > 0.3 ? 1 : -1;
    const x = ((((scatter(look.seed, i + 20) * 22 + way * t * 1.5 * depth) % 22) + 22) % 22) - 3;
    const y = 1 + scatter(look.seed, i + 30) * 5 + 0.5 * Math.sin(t * 0.9 + i);
    const flap = Math.sin(t * (5.2 + scatter(look.seed, i + 40)) + i * 1.7);
    ctx.save();
    ctx.translate(x, y);
    ctx.scale(way * depth, depth);
    shape(
      ctx,
      [
        [0, 0],
        [-0.9, -0.55 * flap],
        [-1.5, -0.2 * flap + 0.1],
        [-0.7, 0.1 - 0.2 * flap],
      ],
      'rgb(246,246,246)',
    );
    shape(
      ctx,
      [
        [0.1, 0],
        [1, -0.6 * flap],
        [1.6, -0.25 * flap + 0.1],
        [0.8, 0.12 - 0.2 * flap],
      ],
      'rgb(214,218,224)',
    );
    shape(
      ctx,
      [
        [-0.5, 0.02],
        [0.2, -0.12],
        [0.62, 0.02],
        [0.2, 0.16],
      ],
      'rgb(252,252,252)',
    );
    shape(
      ctx,
      [
        [0.6, -0.02],
        [0.82, 0.05],
        [0.58, 0.08],
      ],
      'rgb(226,162,60)',
    );
    ctx.restore();
  }
};

/** A cart on the boards, wheels turning. */
const cart: Scene = (ctx, t, look) => {
  const day = light(look.hour);
  backdrop(ctx, [
    [0, day.sky],
    [0.6, day.horizon],
    [0.6, day.rgb(2, 0.8)],
    [1, day.rgb(3, 0.7)],
  ]);
  const roll = t * 1.5;
  for (let i = 0; i < 9; i++) {
    const x = ((((i * 3.4 - roll * 0.4) % 30) + 30) % 30) - 6;
    shape(
      ctx,
      [
        [x - 1.2, 6],
        [x, 6 - 0.7 - scatter(look.seed, i) * 0.8],
        [x + 1.3, 6],
      ],
      day.rgb(2, 0.92),
    );
  }
  for (let i = 0; i < 26; i++) {
    const x = ((((i * 1.15 - roll) % 29.9) + 29.9) % 29.9) - 6;
    const tone = 84 + 40 * scatter(look.seed, i + 12);
    ctx.fillStyle = `rgb(${tone},${tone * 0.84},${tone * 0.66})`;
    ctx.fillRect(x, 7.5, 1.08, 2.6);
  }
  const x = 5 + 2 * scatter(look.seed, 4) + 0.6 * Math.sin(t * 0.5);
  const bump = 0.05 * Math.sin(t * 7);
  shape(
    ctx,
    [
      [x - 2.2, 5.2 + bump],
      [x + 2.4, 5.2 + bump],
      [x + 1.9, 6.5 + bump],
      [x - 1.7, 6.5 + bump],
    ],
    'rgb(96,68,46)',
  );
  shape(
    ctx,
    [
      [x - 2, 5.2 + bump],
      [x - 0.8, 4.2 + bump],
      [x + 0.5, 3.9 + bump],
      [x + 1.7, 4.5 + bump],
      [x + 2.2, 5.2 + bump],
    ],
    'rgb(244,243,240)',
  );
  stroke(ctx, x + 2.2, 5.9 + bump, x + 5.2, 5.5, 0.12, 'rgb(70,50,36)');
  for (const wheel of [-1.2, 1.4]) {
    ctx.save();
    ctx.translate(x + wheel, 6.7 + bump);
    ctx.rotate(roll / 0.85);
    ctx.strokeStyle = 'rgb(38,30,26)';
    ctx.lineWidth = 0.14;
    ctx.beginPath();
    ctx.arc(0, 0, 0.85, 0, TAU);
    ctx.stroke();
    for (let i = 0; i < 7; i++)
      stroke(ctx, 0, 0, 0.85 * Math.cos((i * TAU) / 7.5), 0.85 * Math.sin((i * TAU) / 7.5), 0.08, 'rgb(52,40,32)');
    ctx.restore();
  }
  figure(ctx, x + 5.4, 7.6, 1.75, 0.4 + 0.1 * Math.sin(t * 4), 0.3 * Math.sin(t * 4), day.rgb(3, 0.32));
};

/** Inside the salt house: a window, beams of light, dust. */
const salthouse: Scene = (ctx, t, look) => {
  backdrop(ctx, [
    [0, 'rgb(26,22,20)'],
    [0.6, 'rgb(52,42,34)'],
    [1, 'rgb(30,24,20)'],
  ]);
  const x = 3 + 7 * scatter(look.seed, 1);
  for (let i = 0; i < 9; i++) stroke(ctx, -4 + i * 3, -1, -5.5 + i * 3.3, 10, 0.28, 'rgb(36,29,24)');
  const warm = look.hour > 0.6 ? '236,150,92' : '250,226,178';
  for (let pane = 0; pane < 4; pane++) {
    const px = x + (pane % 2) * 1.25;
    const py = 1 + Math.floor(pane / 2) * 1.3;
    ctx.fillStyle = `rgb(${warm})`;
    ctx.fillRect(px, py, 1.12, 1.16);
    const sway = 0.22 * Math.sin(t * 0.6 + pane);
    const beam = ctx.createLinearGradient(px, py, px + 5, py + 7);
    beam.addColorStop(0, `rgba(${warm},0.46)`);
    beam.addColorStop(1, `rgba(${warm},0)`);
    ctx.fillStyle = beam;
    ctx.beginPath();
    ctx.moveTo(px, py);
    ctx.lineTo(px + 1.1, py);
    ctx.lineTo(px + 6.2 + sway, 10);
    ctx.lineTo(px + 3.8 + sway, 10);
    ctx.fill();
  }
  for (let i = 0; i < 5; i++) {
    const sx = -1 + i * 3.9 + scatter(look.seed, i + 5);
    shape(
      ctx,
      [
        [sx, 9.4],
        [sx + 0.3, 6.9],
        [sx + 1.9, 6.7],
        [sx + 2.5, 9.4],
      ],
      `rgb(${126 + i * 9},${112 + i * 8},${92 + i * 6})`,
    );
    stroke(ctx, sx + 0.4, 7.1, sx + 1.9, 6.95, 0.1, 'rgb(70,56,44)');
  }
  for (let i = 0; i < 110; i++) {
    const depth = 0.3 + scatter(look.seed, i + 400);
    const dx = ((scatter(look.seed, i + 100) * 18 + t * 0.7 * depth) % 18) - 1;
    const dy = ((scatter(look.seed, i + 200) * 10 + t * 0.55 * depth + 0.25 * Math.sin(t + i)) % 10) - 0.5;
    ctx.fillStyle = `rgba(255,240,210,${0.5 * depth})`;
    ctx.beginPath();
    ctx.arc(dx, dy, 0.055 * depth, 0, TAU);
    ctx.fill();
  }
  const swing = 0.5 * Math.sin(t * 1.35 + look.seed);
  ctx.save();
  ctx.translate(13, -0.6);
  ctx.rotate(swing * 0.5);
  stroke(ctx, 0, 0, 0, 3.4, 0.06, 'rgb(16,14,12)');
  shape(
    ctx,
    [
      [-0.5, 3.4],
      [0.5, 3.4],
      [0.72, 4.5],
      [-0.72, 4.5],
    ],
    'rgb(18,16,14)',
  );
  glow(ctx, 0, 4.5, 1.9, 'rgb(255,206,120)', 0.65);
  ctx.restore();
};

/** Crystals grow, seen close. */
const crystals: Scene = (ctx, t, look) => {
  backdrop(ctx, [
    [0, 'rgb(28,48,58)'],
    [0.5, 'rgb(58,88,96)'],
    [1, 'rgb(22,36,46)'],
  ]);
  for (let i = 0; i < 46; i++) {
    const grow = Math.min(1, 0.2 + Math.max(0, t * 0.22 + 0.6 - scatter(look.seed, i) * 0.9));
    const size = (0.35 + scatter(look.seed, i + 60) * 1.05) * grow;
    const x = -1 + scatter(look.seed, i + 100) * 18 + 0.35 * t * (scatter(look.seed, i + 160) - 0.2);
    const y = -0.5 + scatter(look.seed, i + 140) * 10;
    ctx.save();
    ctx.translate(x, y);
    ctx.rotate(scatter(look.seed, i + 180) * TAU + t * 0.16 * (scatter(look.seed, i + 220) - 0.5));
    const bright = 150 + 100 * Math.abs(Math.sin(t * 1.1 + i * 2.3));
    shape(
      ctx,
      [
        [-size, -size],
        [size, -size],
        [size, size],
        [-size, size],
      ],
      `rgba(${bright},${bright + 4},${bright + 5},0.34)`,
    );
    shape(
      ctx,
      [
        [-size, -size],
        [size, -size],
        [size * 0.5, -size * 0.5],
        [-size * 0.5, -size * 0.5],
      ],
      `rgba(255,255,255,0.55)`,
    );
    shape(
      ctx,
      [
        [size, -size],
        [size, size],
        [size * 0.5, size * 0.5],
        [size * 0.5, -size * 0.5],
      ],
      `rgba(190,214,220,0.5)`,
    );
    shape(
      ctx,
      [
        [-size * 0.5, -size * 0.5],
        [size * 0.5, -size * 0.5],
        [size * 0.5, size * 0.5],
        [-size * 0.5, size * 0.5],
      ],
      `rgba(236,246,248,0.5)`,
    );
    ctx.restore();
  }
};

/** The works from above: a quilt of pans, a road, a boat's wake. */
const aerial: Scene = (ctx, t, look) => {
  backdrop(ctx, [
    [0, 'rgb(92,104,96)'],
    [1, 'rgb(92,104,96)'],
  ]);
  ctx.save();
  ctx.translate(8, 4.5);
  ctx.rotate(0.25 + scatter(look.seed, 1) * 0.5 + t * 0.02);
  ctx.translate(-8 - t * 0.9, -4.5 + t * 0.35);
  for (let i = -4; i < 18; i++)
    for (let k = -5; k < 11; k++) {
      const id = i * 31 + k * 17;
      const [r, g, b] = (
        [
          [196, 178, 160],
          [152, 172, 176],
          [214, 208, 198],
          [178, 128, 118],
          [112, 144, 150],
        ] as const
      )[Math.floor(scatter(look.seed, id) * 5)] ?? [0, 0, 0];
      const gain = 0.8 + 0.3 * scatter(look.seed, id + 5000);
      ctx.fillStyle = `rgb(${r * gain},${g * gain},${b * gain})`;
      ctx.fillRect(i * 2, k * 1.5, 1.9, 1.4);
      if (scatter(look.seed, id + 900) > 0.8) {
        ctx.fillStyle = 'rgb(244,242,238)';
        ctx.beginPath();
        ctx.arc(i * 2 + 0.9, k * 1.5 + 0.7, 0.32, 0, TAU);
        ctx.fill();
      }
    }
  stroke(ctx, -10, 5.9, 40, 5.9, 0.34, 'rgb(126,112,92)');
  for (let i = 0; i < 5; i++) {
    const x = (scatter(look.seed, i + 70) * 20 + t * (0.9 + i * 0.22)) % 26;
    shape(
      ctx,
      [
        [x, 5.76],
        [x + 0.5, 5.76],
        [x + 0.5, 6.02],
        [x, 6.02],
      ],
      i % 2 ? 'rgb(62,54,48)' : 'rgb(176,66,52)',
    );
  }
  ctx.restore();
};

/** Hands in brine: rings on the water, a bowl, a slow turn. */
const brine: Scene = (ctx, t, look) => {
  backdrop(ctx, [
    [0, 'rgb(44,62,70)'],
    [0.6, 'rgb(86,112,116)'],
    [1, 'rgb(52,66,70)'],
  ]);
  for (let drop = 0; drop < 6; drop++) {
    const x = 1.5 + scatter(look.seed, drop) * 13;
    const y = 1.5 + scatter(look.seed, drop + 10) * 6;
    for (let ring = 0; ring < 5; ring++) {
      const radius = (t * 0.85 + ring * 0.75 + scatter(look.seed, drop + 20) * 3.6) % 3.75;
      ctx.strokeStyle = `rgba(230,242,240,${0.65 * (1 - radius / 3.75)})`;
      ctx.lineWidth = 0.07;
      ctx.beginPath();
      ctx.ellipse(x, y, radius, radius * 0.6, 0, 0, TAU);
      ctx.stroke();
    }
  }
  const turn = 0.35 * Math.sin(t * 0.7);
  ctx.save();
  ctx.translate(7.6 + 1.1 * Math.sin(t * 0.5 + look.seed), 6.1 + 0.35 * Math.sin(t * 0.9));
  ctx.rotate(turn);
  ctx.fillStyle = 'rgb(128,92,60)';
  ctx.beginPath();
  ctx.ellipse(0, 0, 2.9, 1.5, 0, 0, TAU);
  ctx.fill();
  ctx.fillStyle = 'rgb(238,236,230)';
  ctx.beginPath();
  ctx.ellipse(0, -0.14, 2.5, 1.15, 0, 0, TAU);
  ctx.fill();
  for (let i = 0; i < 50; i++) {
    const angle = scatter(look.seed, i + 40) * TAU;
    const radius = Math.sqrt(scatter(look.seed, i + 90));
    ctx.fillStyle = i % 3 ? 'rgb(255,255,255)' : 'rgb(190,192,192)';
    ctx.fillRect(2.3 * radius * Math.cos(angle), 1 * radius * Math.sin(angle) - 0.14, 0.14, 0.1);
  }
  ctx.lineCap = 'round';
  for (const side of [-1, 1]) {
    for (let finger = 0; finger < 4; finger++)
      stroke(
        ctx,
        side * 3.6,
        1.3 - finger * 0.36,
        side * (2.1 - 0.12 * finger),
        0.62 - finger * 0.36 + 0.1 * Math.sin(t * 2 + finger),
        0.36,
        `rgb(${176 + finger * 8},${128 + finger * 6},${102 + finger * 5})`,
      );
    stroke(ctx, side * 7.5, 4.6, side * 3.5, 1, 1.15, 'rgb(166,120,96)');
  }
  ctx.restore();
};

/** The first rain of the season. */
const rain: Scene = (ctx, t, look) => {
  const day = light(look.hour, 0.55);
  backdrop(ctx, [
    [0, day.rgb(1, 0.8)],
    [0.5, day.rgb(2, 0.7)],
    [0.5, day.rgb(3, 1)],
    [1, day.rgb(3, 0.6)],
  ]);
  clouds(ctx, t, look, -1, 3.5, 1.6, 'rgb(70,76,86)');
  for (let i = 0; i < 6; i++) {
    const x = -1 + i * 3.2 + scatter(look.seed, i) * 1.5;
    shape(
      ctx,
      [
        [x - 1.1, 5.6],
        [x, 4.4 + scatter(look.seed, i + 9) * 0.5],
        [x + 1.2, 5.6],
      ],
      'rgb(150,154,160)',
    );
  }
  for (let i = 0; i < 46; i++) {
    const age = (t * 1.25 + scatter(look.seed, i + 40)) % 1;
    const generation = Math.floor(t * 1.25 + scatter(look.seed, i + 40));
    const x = -1 + scatter(look.seed + generation, i + 80) * 18;
    const y = 5.9 + scatter(look.seed + generation, i + 120) * 3.4;
    ctx.strokeStyle = `rgba(220,230,236,${0.8 * (1 - age)})`;
    ctx.lineWidth = 0.05;
    ctx.beginPath();
    ctx.ellipse(x, y, 0.1 + age * 0.9, (0.1 + age * 0.9) * 0.35, 0, 0, TAU);
    ctx.stroke();
  }
  for (let i = 0; i < 150; i++) {
    const fall = (scatter(look.seed, i + 200) * 11 + t * (9 + 4 * scatter(look.seed, i + 400))) % 11;
    const x = -2 + scatter(look.seed, i + 600) * 20 - fall * 0.16;
    stroke(ctx, x, fall - 1, x - 0.11, fall - 0.3, 0.026, 'rgba(206,218,228,0.55)');
  }
  figure(ctx, 3.4 + t * 0.55, 8.2, 1.9, 0.35 + 0.08 * Math.sin(t * 5), 0.2 * Math.sin(t * 5), 'rgb(24,26,30)');
};

/** Someone walks home along the dyke. */
const dyke: Scene = (ctx, t, look) => {
  const day = light(look.hour);
  backdrop(ctx, [
    [0, day.sky],
    [0.6, day.horizon],
    [1, day.horizon],
  ]);
  glow(ctx, 11, 5.4, 4, 'rgb(255,196,130)', 0.8);
  clouds(ctx, t, look, 0, 4.4, 0.4, 'rgb(255,206,180)');
  shape(
    ctx,
    [
      [-8, 6.4],
      [4, 5.9],
      [12, 6.2],
      [24, 5.8],
      [24, 12],
      [-8, 12],
    ],
    day.rgb(3, 0.7),
  );
  for (let i = 0; i < 12; i++) {
    const x = -2 + i * 1.9 - t * 0.3;
    stroke(ctx, x, 6.3, x, 5.1, 0.09, day.rgb(3, 0.35));
    stroke(ctx, x, 5.4, x + 1.9, 5.4 + 0.1 * Math.sin(i), 0.03, day.rgb(3, 0.35));
  }
  const x = 2.5 + t * 0.95;
  figure(ctx, x, 7.4 + 0.06 * Math.sin(t * 8), 1.9, 0.15 + 0.05 * Math.sin(t * 4), 0.12 * Math.sin(t * 4), day.rgb(3, 0.2));
  ctx.save();
  ctx.translate(x - 1.7, 7.5);
  ctx.scale(0.9, 0.9);
  const trot = Math.sin(t * 9);
  shape(
    ctx,
    [
      [-0.7, -0.7],
      [0.6, -0.74],
      [0.7, -0.36],
      [-0.7, -0.34],
    ],
    day.rgb(3, 0.2),
  );
  shape(
    ctx,
    [
      [0.5, -0.8],
      [1, -1],
      [1.2, -0.72],
      [0.7, -0.5],
    ],
    day.rgb(3, 0.2),
  );
  for (const leg of [-0.6, -0.35, 0.35, 0.6]) stroke(ctx, leg, -0.4, leg + 0.16 * trot * (leg > 0 ? 1 : -1), 0, 0.1, day.rgb(3, 0.2));
  stroke(ctx, -0.7, -0.64, -1.1, -0.95 + 0.12 * trot, 0.07, day.rgb(3, 0.2));
  ctx.restore();
  grass(ctx, t, look, day.rgb(3, 0.22));
};

/** Water before dawn. Hardly anything moves: a slip would not show. */
const stillWater: Scene = (ctx, _t, look) => {
  const day = light(look.hour, 0.9);
  backdrop(ctx, [
    [0, day.sky],
    [0.5, day.horizon],
    [0.5, day.rgb(2, 0.7)],
    [1, day.rgb(1, 0.5)],
  ]);
  for (let i = 0; i < 24; i++) {
    const x = -2 + scatter(look.seed, i) * 20;
    const y = 5 + scatter(look.seed, i + 50) ** 2 * 4.4;
    stroke(ctx, x, y, x + 1.6, y, 0.05, 'rgba(20,24,34,0.4)');
  }
  for (let i = 0; i < 8; i++) {
    const x = 1 + i * 2 + scatter(look.seed, i + 90);
    stroke(ctx, x, 7, x + 0.15, 3.4 + scatter(look.seed, i + 100), 0.14, 'rgb(18,20,26)');
  }
};

/** An old harbour, as a worn copy. */
const harbour: Scene = (ctx, t, look) => {
  backdrop(ctx, [
    [0, 'rgb(196,176,140)'],
    [0.55, 'rgb(222,204,168)'],
    [0.55, 'rgb(150,132,102)'],
    [1, 'rgb(98,84,62)'],
  ]);
  for (let i = 0; i < 5; i++) {
    const x = ((scatter(look.seed, i) * 16 + t * (0.5 + 0.2 * i)) % 20) - 2;
    const y = 5.2 + i * 0.62;
    const roll = 0.05 * Math.sin(t * 1.4 + i);
    ctx.save();
    ctx.translate(x, y);
    ctx.rotate(roll);
    ctx.scale(0.8 + i * 0.16, 0.8 + i * 0.16);
    shape(
      ctx,
      [
        [-1.4, 0],
        [1.5, 0],
        [1.1, 0.5],
        [-1.1, 0.5],
      ],
      'rgb(60,48,34)',
    );
    stroke(ctx, 0, 0, 0, -3, 0.07, 'rgb(60,48,34)');
    shape(
      ctx,
      [
        [0.08, -2.9],
        [1.4, -0.3],
        [0.08, -0.3],
      ],
      'rgb(232,216,182)',
    );
    shape(
      ctx,
      [
        [-0.08, -2.5],
        [-1.1, -0.3],
        [-0.08, -0.3],
      ],
      'rgb(208,190,154)',
    );
    ctx.restore();
  }
  for (let i = 0; i < 40; i++)
    stroke(
      ctx,
      -2 + scatter(look.seed, i + 60) * 20,
      5.4 + scatter(look.seed, i + 120) * 4,
      -1 + scatter(look.seed, i + 60) * 20 + 0.3 * Math.sin(t * 2 + i),
      5.4 + scatter(look.seed, i + 120) * 4,
      0.03,
      'rgba(240,226,196,0.5)',
    );
  const frame = Math.floor(t * 25 + 0.01);
  for (let i = 0; i < 4; i++) {
    const x = scatter(frame + 7, i) * 16;
    stroke(ctx, x, -1, x + 0.1, 10, 0.025, 'rgba(40,30,20,0.25)');
  }
};

/** A drawn plan of the works, as a flat picture. */
const plan: Scene = (ctx, _t, look) => {
  backdrop(ctx, [
    [0, 'rgb(226,214,188)'],
    [1, 'rgb(210,196,166)'],
  ]);
  for (let i = 0; i < 8; i++)
    for (let k = 0; k < 4; k++) {
      ctx.strokeStyle = 'rgb(86,70,56)';
      ctx.lineWidth = 0.05;
      ctx.strokeRect(1.4 + i * 1.65 + 0.12 * scatter(look.seed, i), 1.5 + k * 1.5, 1.45, 1.3);
      if (scatter(look.seed, i * 9 + k) > 0.6) {
        ctx.fillStyle = 'rgba(96,140,150,0.5)';
        ctx.fillRect(1.45 + i * 1.65, 1.55 + k * 1.5, 1.38, 1.2);
      }
    }
  stroke(ctx, 0.6, 8, 15.2, 7.7, 0.09, 'rgb(150,70,52)');
  ctx.strokeStyle = 'rgb(86,70,56)';
  ctx.lineWidth = 0.09;
  ctx.strokeRect(0.4, 0.4, 15.2, 8.2);
};

export const SCENES = {
  pans,
  windpump,
  sluice,
  raking,
  gulls,
  cart,
  salthouse,
  crystals,
  aerial,
  brine,
  rain,
  dyke,
  stillWater,
  harbour,
  plan,
} as const;
export type SceneName = keyof typeof SCENES;

/** Draws one frame of a take over the whole canvas. */
export function drawTake(ctx: Ctx, width: number, height: number, scene: SceneName, look: TakeLook, t: number): void {
  ctx.save();
  ctx.setTransform(width / 16, 0, 0, height / 9, 0, 0);
  const zoom = look.zoom + look.push * t;
  ctx.translate(8, 4.5);
  ctx.scale(zoom, zoom);
  ctx.translate(-8 - look.driftX * t, -4.5 - look.driftY * t);
  SCENES[scene](ctx, t, look);
  ctx.restore();
}
