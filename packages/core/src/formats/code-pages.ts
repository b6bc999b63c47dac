import { wordTable } from '../model';
/**
 * Code pages of old machines that the WHATWG Encoding standard leaves out: their characters from 0x80 on, in order.
 * Source: IBM code pages 850 and 852 as registered with IANA.
 */
const UPPER_HALVES = wordTable({
  ibm850:
    'ÇüéâäàåçêëèïîìÄÅÉæÆôöòûùÿÖÜø£Ø×ƒáíóúñÑªº¿®¬½¼¡«»░▒▓│┤ÁÂÀ©╣║╗╝¢¥┐└┴┬├─┼ãÃ╚╔╩╦╠═╬¤ðÐÊËÈıÍÎÏ┘┌█▄¦Ì▀ÓßÔÒõÕµþÞÚÛÙýÝ¯´\u00ad±‗¾¶§÷¸°¨·¹³²■\u00a0',
  ibm852:
    'ÇüéâäůćçłëŐőîŹÄĆÉĹĺôöĽľŚśÖÜŤťŁ×čáíóúĄąŽžĘę¬źČş«»░▒▓│┤ÁÂĚŞ╣║╗╝Żż┐└┴┬├─┼Ăă╚╔╩╦╠═╬¤đĐĎËďŇÍÎě┘┌█▄ŢŮ▀ÓßÔŃńňŠšŔÚŕŰýÝţ´\u00ad˝˛ˇ˘§÷¸°¨˙űŘř■\u00a0',
});

/** The text of bytes in a code page that we read ourselves; null for any other encoding. */
export function codePageText(encoding: string, bytes: Uint8Array): string | null {
  const upper = UPPER_HALVES[encoding];
  if (upper === undefined) return null;
  let text = '';
  for (const byte of bytes) text += byte < 0x80 ? String.fromCharCode(byte) : upper.charAt(byte - 0x80);
  return text;
}

export const OWN_CODE_PAGES: readonly string[] = Object.keys(UPPER_HALVES);
