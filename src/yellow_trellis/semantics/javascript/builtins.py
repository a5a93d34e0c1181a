"""Names that programs in JavaScript find without binding them.

Source: ECMA-262, "The Global Object"; the standards of the web for what browsers and Node.js share;
the documentation of Node.js for what a module of CommonJS is given.
"""

from __future__ import annotations

from yellow_trellis.languages.language import kinds

BUILTINS = kinds(
    "AggregateError Array ArrayBuffer Atomics BigInt BigInt64Array BigUint64Array Boolean DataView "
    "Date Error EvalError FinalizationRegistry Float32Array Float64Array Function Infinity "
    "Int16Array Int32Array Int8Array Intl Iterator JSON Map Math NaN Number Object Promise Proxy "
    "RangeError ReferenceError Reflect RegExp Set SharedArrayBuffer String Symbol SyntaxError "
    "TypeError URIError Uint16Array Uint32Array Uint8Array Uint8ClampedArray WeakMap WeakRef "
    "WeakSet decodeURI decodeURIComponent encodeURI encodeURIComponent escape eval globalThis "
    "isFinite isNaN parseFloat parseInt undefined unescape "
    "AbortController AbortSignal Blob BroadcastChannel CustomEvent DOMException Event EventTarget "
    "FormData Headers MessageChannel MessageEvent MessagePort Performance ReadableStream Request "
    "Response TextDecoder TextEncoder TransformStream URL URLSearchParams WebAssembly WebSocket "
    "WritableStream atob btoa clearInterval clearTimeout console crypto fetch performance "
    "queueMicrotask setInterval setTimeout structuredClone "
    "document localStorage location navigator sessionStorage window "
    "Buffer __dirname __filename clearImmediate exports global module process require setImmediate"
)
