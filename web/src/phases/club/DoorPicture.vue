<template>
  <svg viewBox="0 0 600 520" aria-hidden="true">
    <path d="M40 430H560" stroke="var(--line-strong)" stroke-width="2" />
    <path d="M60 430A240 240 0 0 1 540 430" fill="none" stroke="var(--line)" stroke-width="2" />
    <path d="M110 430A190 150 0 0 1 490 430" fill="none" stroke="var(--line)" stroke-width="2" stroke-dasharray="5 7" />
    <path d="M300 120V430" stroke="var(--accent)" stroke-width="2" />
    <path d="M300 190l-7-13h14z" fill="var(--accent)" />
    <circle cx="168" cy="230" r="6" fill="none" stroke="var(--ink-2)" stroke-width="2" />
    <circle cx="412" cy="268" r="6" fill="none" stroke="var(--ink-2)" stroke-width="2" />
    <g transform="translate(300 430)">
      <path d="M-26 0L-5-64H5L26 0" fill="var(--part)" stroke="var(--ink-2)" stroke-width="2" />
      <g transform="translate(0-72) rotate(-38)">
        <rect x="-64" y="-15" width="128" height="30" fill="var(--surface)" stroke="var(--ink)" stroke-width="2" />
        <rect x="64" y="-20" width="16" height="40" fill="var(--surface)" stroke="var(--ink)" stroke-width="2" />
        <rect x="-84" y="-10" width="20" height="20" fill="var(--surface)" stroke="var(--ink)" stroke-width="2" />
      </g>
    </g>
    <text x="300" y="108" text-anchor="middle" fill="var(--ink-2)" font-size="14">meridian</text>
    <text x="60" y="456" text-anchor="middle" fill="var(--ink-2)" font-size="14">E</text>
    <text x="540" y="456" text-anchor="middle" fill="var(--ink-2)" font-size="14">W</text>
  </svg>
</template>
