import { useFile } from '../../data/files.js';
import { HOUSE_TEXT } from '../../words/console/house.js';
import { FileField } from '../files/FileField.js';

interface SlateSoundProps {
  readonly fileId: string | null;
  readonly error: string | null;
  readonly onChange: (fileId: string | null) => void;
}

/** What viewers hear while the picture is away, over and over: silence, or a sound of the house. */
export function SlateSound({ fileId, ...field }: SlateSoundProps) {
  const { data: sound } = useFile(fileId);
  const chosen = sound && (
    <>
      <b className="min-w-40 flex-1 [overflow-wrap:anywhere]">{sound.name}</b>
      {sound.playUrl && (
        <audio
          controls
          preload="none"
          src={sound.playUrl}
          aria-label={HOUSE_TEXT.listenTo(sound.name)}
          className="w-full"
        />
      )}
    </>
  );
  return (
    <FileField
      label={HOUSE_TEXT.slateSound}
      kind="sound"
      chosen={chosen ?? null}
      empty={HOUSE_TEXT.silence}
      choose={HOUSE_TEXT.chooseASound}
      remove={HOUSE_TEXT.noSound}
      {...field}
    />
  );
}
