/** What an earlier run of the same process read: used again where the files it came from are the same. */
import type { LoadFile } from '../core/contract/document/document.ts';
import type { Contract } from '../core/contract/model/contract.ts';
import { readContract } from '../core/contract/read/read-contract.ts';
import { besideOf } from './beside.ts';
import { InputFailure } from './problem.ts';
import type { Source } from './source.ts';
import type { Sources } from './sources.ts';

export interface Kept {
  /** By the name of the file. */
  readonly sources: Map<string, Source>;
  readonly documents: Map<string, KeptDocument>;
}

interface KeptDocument {
  readonly contract: Contract;
  /** Every file that was asked for, and what it held; undefined where it could not be read. */
  readonly files: Map<string, Source | undefined>;
  /** Documents are read lazily: what is read from now on is a file of the run that uses the contract. */
  current: Sources;
}

export function nothingKept(): Kept {
  return { sources: new Map(), documents: new Map() };
}

type ReadContract = ReturnType<typeof readContract>;

/** The contract of a document, the one of an earlier run where nothing that it was read from has changed. */
export function keptContract(file: string, sources: Sources, kept: Kept | undefined): ReadContract {
  if (kept === undefined) return readContract(sources.load(file).value, file, besideOf(sources));
  const known = kept.documents.get(file);
  if (known !== undefined && [...known.files].every(([name, source]) => sourceOf(name, sources) === source)) {
    known.current = sources;
    return { ok: true, contract: known.contract };
  }
  const files = new Map<string, Source | undefined>([[file, sources.load(file)]]);
  const holder: { entry?: KeptDocument } = {};
  const load: LoadFile = (reference, from) => {
    const now = holder.entry?.current ?? sources;
    return besideOf(now, (name) => {
      files.set(name, sourceOf(name, now));
      return name;
    })(reference, from);
  };
  const result = readContract(sources.load(file).value, file, load);
  if (!result.ok) return result;
  holder.entry = { contract: result.contract, files, current: sources };
  kept.documents.set(file, holder.entry);
  return result;
}

function sourceOf(name: string, sources: Sources): Source | undefined {
  try {
    return sources.load(name);
  } catch (error) {
    if (!(error instanceof InputFailure)) throw error;
    return undefined;
  }
}
