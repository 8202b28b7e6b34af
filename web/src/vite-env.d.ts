/// <reference types="vite/client" />

/** A hash of the code that draws. */
declare const __DRAWN_BY__: string
