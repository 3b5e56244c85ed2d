import Joi from 'joi';
import { COMMAND_KINDS, END_CAUSES, EVENT_STATES } from '@heliphon/core/schedule/event-life';
import { RECORDING_STOPS, SOURCE_ENDINGS, SOURCE_REFUSALS } from '@heliphon/core/control/observations';
import { type Fault, FAULT_KINDS } from '@heliphon/core/faults/fault';
import { VIEWERS_HAVE_KINDS } from '@heliphon/core/audience/viewers-have';
import { INGEST_PROTOCOLS } from '@heliphon/core/signal/source-report';
import { RENDITION_LIMITS, RENDITION_NAME } from '@heliphon/core/ladder/renditions';
import type { NodeMessage, NodeSelf, SizesFigures } from '@heliphon/core/control/observations';
import { NODE_ID, NODE_PLACE_LENGTH } from './nodes.js';
import type { DesiredState, ServerMessage } from '@heliphon/core/control/desired-state';

const id = Joi.string().uuid();
const instant = Joi.number();
const count = Joi.number().integer().min(0);
/** SHA-256 of what a still is drawn from. */
const stillId = Joi.string().hex().length(64);
const nodeId = Joi.string().pattern(NODE_ID);
const url = (...scheme: string[]): Joi.StringSchema => Joi.string().max(300).uri({ scheme }).allow(null);

const life = Joi.alternatives().try(
  Joi.object({ state: Joi.valid('planned').required() }),
  Joi.object({ state: Joi.valid('doors').required(), doorsAtMs: instant.required() }),
  Joi.object({
    state: Joi.valid('air').required(),
    doorsAtMs: instant.required(),
    airAtMs: instant.required(),
  }),
  Joi.object({
    state: Joi.valid('kept').required(),
    doorsAtMs: instant.required(),
    airAtMs: instant.required(),
    endAtMs: instant.required(),
    cause: Joi.valid(...END_CAUSES).required(),
  }),
  Joi.object({ state: Joi.valid('cancelled').required(), atMs: instant.required() }),
);

const renditionName = Joi.string().pattern(RENDITION_NAME);
const renditionChoice = Joi.alternatives().try(
  Joi.valid('off', 'auto'),
  Joi.array()
    .items(
      Joi.object({ heightPx: count.required(), videoBitrateBps: count.allow(null).required() }).unknown(),
    )
    .max(RENDITION_LIMITS.most),
);

/** The whole desired state, as a node takes it in. A newer server may add fields. */
export const desiredStateSchema = Joi.object<DesiredState>({
  revision: count.required(),
  issuedAtMs: instant.required(),
  clockOffsetMs: instant.required(),
  grantKeys: Joi.array()
    .items(
      Joi.object({
        keyId: Joi.string().required(),
        secretBase64: Joi.string().base64().required(),
      }).unknown(),
    )
    .required(),
  sources: Joi.array()
    .items(
      Joi.object({
        sourceId: id.required(),
        user: Joi.string().required(),
        keySha256Hex: Joi.string().hex().length(64).required(),
        password: Joi.object({ salt: Joi.string().required(), verifier: Joi.string().required() })
          .allow(null)
          .required(),
        // Kept by a node from before there were cameras.
        lines: Joi.array()
          .items(
            Joi.object({ sha256Hex: Joi.string().hex().length(64).required(), untilMs: instant.required() }),
          )
          .default([]),
        srt: Joi.object({
          slot: count.required(),
          passphrase: Joi.string().required(),
          latencyMs: count.required(),
        })
          .allow(null)
          .default(null),
        followsProgrammeId: id.allow(null).default(null),
        grantsValidFromMs: instant.required(),
      }).unknown(),
    )
    .required(),
  binnedRecordings: Joi.array().items(id).required(),
  // Kept by a node from before some alone might watch.
  guardedReplays: Joi.array().items(id).default([]),
  grantTurns: Joi.object()
    .pattern(
      id,
      Joi.object({
        publicAtMs: instant.allow(null).required(),
        guardedAtMs: Joi.array().items(instant).required(),
      }),
    )
    .default({}),
  // Kept by a node from before there were slates.
  recordingsWithGaps: Joi.array().items(id).default([]),
  removedRecordings: Joi.array()
    .items(Joi.object({ programmeId: id.required(), houseId: id.required() }).unknown())
    .required(),
  // Kept by a node from before there were several.
  elsewhere: Joi.array().items(id).default([]),
  joins: Joi.array()
    .items(
      Joi.object({
        programmeId: id.required(),
        houseId: id.required(),
        nodeId: nodeId.required(),
        address: Joi.string()
          .uri({ scheme: ['http', 'https'] })
          .required(),
      }).unknown(),
    )
    .default([]),
  // Kept by a node from before there were clips.
  clips: Joi.array()
    .items(
      Joi.object({
        clipId: id.required(),
        houseId: id.required(),
        programmeId: id.required(),
        fromUtcMs: instant.required(),
        toUtcMs: instant.required(),
      }).unknown(),
    )
    .default([]),
  programmes: Joi.array()
    .items(
      Joi.object({
        programmeId: id.required(),
        houseId: id.required(),
        sourceId: id.allow(null).required(),
        // Kept by a node from before a source could stand by.
        standby: Joi.object({
          sourceId: id.required(),
          afterMs: count.allow(null).required(),
          isPreferred: Joi.boolean().required(),
        })
          .allow(null)
          .default(null),
        plan: Joi.object({
          doorsAtMs: instant.required(),
          airAtMs: instant.required(),
          stopAtMs: instant.required(),
          hardStopAtMs: instant.required(),
          deadAirMs: instant.required(),
        }).required(),
        command: Joi.object({
          commandId: Joi.string().required(),
          kind: Joi.valid(...COMMAND_KINDS).required(),
          atMs: instant.required(),
        })
          .allow(null)
          .required(),
        rewindWindowMs: count.required(),
        // Kept by a node from before there were slates.
        slate: Joi.object({
          awayAfterMs: count.required(),
          stillIds: Joi.object({ coming: stillId.required(), back: stillId.required() }).required(),
          // Kept by a node from before slates had sound.
          sound: Joi.object({ fileId: id.required(), sizeBytes: count.required() }).allow(null).default(null),
        })
          .allow(null)
          .default(null),
        // Kept by a node from before there were smaller pictures.
        renditions: renditionChoice.default('off'),
        keepsRenditions: Joi.boolean().default(true),
        takenOver: Joi.object({
          leg: count.required(),
          life: life.required(),
          lastHeardMs: instant.allow(null).default(null),
        })
          .allow(null)
          .default(null),
        // Kept by a node from before there were films.
        film: Joi.object({
          fileId: id.required(),
          sizeBytes: count.required(),
          durationMs: count.required(),
          standsAlone: Joi.boolean().default(false),
        })
          .allow(null)
          .default(null),
        grantsValidFromMs: Joi.object({ public: instant.required(), desk: instant.required() }).required(),
        destinations: Joi.array()
          .items(
            Joi.object({
              destinationId: id.required(),
              address: Joi.string().required(),
              // Kept by a node from before there were smaller pictures.
              rendition: renditionName.allow(null).default(null),
            }).unknown(),
          )
          .required(),
      }).unknown(),
    )
    .required(),
}).unknown();

export const serverMessageSchema = Joi.alternatives<ServerMessage>().try(
  Joi.object({ type: Joi.valid('desired').required(), state: desiredStateSchema.required() }),
  Joi.object({ type: Joi.valid('stored').required(), journalSeq: count.required() }),
  Joi.object({ type: Joi.valid('tell-anew').required() }),
);

const atMs = instant.required();
const fault = Joi.object<Fault>({
  kind: Joi.valid(...FAULT_KINDS).required(),
  subjectId: Joi.string().allow('').max(64).required(),
  detail: Joi.object()
    .pattern(Joi.string().max(30), Joi.alternatives().try(Joi.number(), Joi.string().allow('').max(300)))
    .max(10)
    .required(),
  fromMs: instant.required(),
  toMs: instant.allow(null).required(),
  noticed: Joi.object({ slateMs: count, nothingMs: count, pictureMs: count, soundMs: count })
    .options({ presence: 'required' })
    .required(),
  viewerMs: count.required(),
});
const observation = Joi.alternatives().try(
  Joi.object({
    kind: Joi.valid('programme-moved').required(),
    programmeId: id.required(),
    life: life.required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('recording-kept').required(),
    programmeId: id.required(),
    durationMs: count.required(),
    // Not told by a node from before there were slates.
    gapsMs: count.default(0),
    sizeBytes: count.required(),
    // Not told by a node from before it was added up.
    loudness: Joi.object({
      integratedLufs: Joi.number().allow(null).required(),
      rangeLu: Joi.number().allow(null).required(),
      truePeakDbtp: Joi.number().allow(null).required(),
    })
      .allow(null)
      .default(null),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('recording-stopped').required(),
    programmeId: id.required(),
    reason: Joi.valid(...RECORDING_STOPS).required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('recording-resumed', 'recording-removed', 'clip-failed').required(),
    programmeId: id.required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('viewers-have').required(),
    programmeId: id.required(),
    have: Joi.alternatives()
      .try(
        Joi.object({ kind: Joi.valid('picture').required(), sourceId: id.required() }),
        Joi.object({ kind: Joi.valid('film').required(), fileId: id.required() }),
        Joi.object({ kind: Joi.valid('slate', 'nothing').required() }),
      )
      .required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('fault').required(),
    programmeId: id.required(),
    fault: fault.required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('recording-joined').required(),
    programmeId: id.required(),
    nodeId: nodeId.required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('source-came').required(),
    sourceId: id.required(),
    protocol: Joi.valid(...INGEST_PROTOCOLS).required(),
    remoteAddress: Joi.string().required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('source-went').required(),
    sourceId: id.required(),
    // A node of before told it in a sentence.
    reason: Joi.valid(...SOURCE_ENDINGS)
      .failover('connection-broke')
      .required(),
    atMs,
  }),
  Joi.object({
    kind: Joi.valid('source-refused').required(),
    sourceId: id.allow(null).required(),
    reason: Joi.valid(...SOURCE_REFUSALS).required(),
    remoteAddress: Joi.string().required(),
    atMs,
  }),
);

const sizes = Joi.object<SizesFigures>({
  choice: renditionChoice.required(),
  making: Joi.array()
    .items(
      Joi.object({
        name: renditionName.required(),
        widthPx: count.required(),
        heightPx: count.required(),
        videoBitrateBps: count.required(),
      }),
    )
    .required(),
  leftOut: Joi.array()
    .items(Joi.object({ heightPx: count.required(), why: Joi.valid('not-smaller', 'no-room').required() }))
    .required(),
  shed: Joi.array().items(renditionName).required(),
});

const figures = Joi.object({
  atMs,
  revision: count.required(),
  diskFreeBytes: Joi.number().required(),
  disk: Joi.valid('plenty', 'low', 'full').required(),
  // Not said by a node from before there were several.
  load: Joi.number().min(0).default(0),
  // Not said by a node from before there were smaller pictures.
  sizesRoomCores: Joi.number().min(0).default(0),
  sizesMostCores: Joi.number().min(0).allow(null).default(null),
  films: Joi.array().items(id).default([]),
  sources: Joi.array()
    .items(
      Joi.object({
        sourceId: id.required(),
        report: Joi.object().unknown().required(),
        pictureTakenAtMs: instant.allow(null).required(),
      }),
    )
    .required(),
  programmes: Joi.array()
    .items(
      Joi.object({
        programmeId: id.required(),
        sourceId: id.allow(null).default(null),
        state: Joi.valid(...EVENT_STATES).required(),
        signal: Joi.object({
          present: Joi.boolean().required(),
          sinceMs: instant.allow(null).required(),
        }).required(),
        // Not said by a node from before there were slates.
        viewersHave: Joi.valid(...VIEWERS_HAVE_KINDS).default('nothing'),
        filmLeftMs: Joi.number().allow(null).default(null),
        viewers: count.required(),
        // Not said by a node from before it was known where they watch.
        viewersAt: Joi.array()
          .items(
            Joi.object({ site: Joi.string().allow('', null).max(100).required(), viewers: count.required() }),
          )
          .default([]),
        keptMs: count.required(),
        recordingStopped: Joi.valid(...RECORDING_STOPS)
          .allow(null)
          .required(),
        sizes: sizes.default({ choice: 'off', making: [], leftOut: [], shed: [] }),
        destinations: Joi.array()
          .items(
            Joi.object({
              destinationId: id.required(),
              state: Joi.object().unknown().required(),
              rateBps: count.default(0),
              queuedBytes: count.default(0),
              rendition: renditionName.allow(null).default(null),
            }),
          )
          .required(),
        // Not said by a node from before faults were found.
        faults: Joi.array().items(fault).default([]),
      }),
    )
    .required(),
});

const self = Joi.object<NodeSelf>({
  place: Joi.string().trim().max(NODE_PLACE_LENGTH).allow(null).required(),
  mediaUrl: url('http', 'https').required(),
  rtmpUrl: url('rtmp').required(),
  rtmpsUrl: url('rtmps').required(),
  mediaPort: Joi.number().port().required(),
  rtmpPort: Joi.number().port().required(),
  srtFirstPort: Joi.number().port().required(),
});

/** What a node says to the server. */
export const nodeMessageSchema = Joi.alternatives<NodeMessage>().try(
  Joi.object({ type: Joi.valid('here').required(), self: self.required(), journalId: id.required() }),
  Joi.object({
    type: Joi.valid('observed').required(),
    entries: Joi.array()
      .items(Joi.object({ journalSeq: count.required(), observation: observation.required() }))
      .max(1000)
      .required(),
  }),
  Joi.object({ type: Joi.valid('figures').required(), figures: figures.required() }),
);
