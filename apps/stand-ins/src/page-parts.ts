import type { Faults } from './faults';

export const escape = (text: string) =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

/** A page of a stand-in, which says what it is. */
export const framed = (name: string, what: string, body: string) =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><title>Stand-in: ${name}</title>
<style>body{font:15px serif;margin:2rem auto;max-width:60rem;background:#fffef2;color:#222}table{border-collapse:collapse;width:100%}
td,th{border:1px solid #999;padding:.2rem .5rem;text-align:left}input,textarea,button,select{font:inherit}label{display:inline-block;margin:.2rem 1rem .2rem 0}
header{border:3px double #222;padding:.5rem 1rem;margin-bottom:1rem}textarea{width:100%;height:12rem}</style>
<header><b>A stand-in for ${what}.</b> It is no part of Gray Loom: a small simulated tool to try a connection against.</header>${body}</html>`;

/** What goes wrong on purpose, in a form. */
export function faultsForm(faults: Faults): string {
  const boxes = Object.entries(faults)
    .map(([name, value]) =>
      typeof value === 'boolean'
        ? `<label><input type="checkbox" name="${name}"${value ? ' checked' : ''}> ${name}</label>`
        : `<label>${name} <input name="${name}" value="${value}" size="6"></label>`,
    )
    .join('');
  return `<h2>What goes wrong on purpose</h2><form method="post" action="/faults">${boxes}<br><button>Set</button></form>`;
}

/** A field of every record: renamed, or taken away. */
export const columnForm = (action: string, key: string, name: string): string =>
  `<form method="post" action="${action}"><input type="hidden" name="key" value="${escape(key)}"><input name="name" value="${escape(name)}">` +
  `<button>Rename</button> <button name="remove" value="1">Remove</button></form>`;
