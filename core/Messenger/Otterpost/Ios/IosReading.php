<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Pouch;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\StoreWriter;

/** One pass over one generation 3 database. */
final class IosReading
{
    private const PREVIEW_LIMIT = 1_000_000;

    /** @var array<int, string> person key by ZFOLK.Z_PK */
    private array $folk = [];
    private readonly Database $database;

    public function __construct(
        private readonly Pouch $pouch,
        private readonly AttachmentFiles $files,
        private readonly StoreWriter $store,
        private readonly Progress $progress,
    ) {
        $this->database = $pouch->database;
    }

    public function all(): void
    {
        $this->progress->phase('reading', $this->database->one('SELECT COUNT(*) AS n FROM ZSLIP')?->int('n') ?? 0);
        $this->source();
        foreach ($this->database->rows($this->pouch->select('ZFOLK', 'ORDER BY Z_PK')) as $row) {
            $key = Handle::toKey($row->text('ZHANDLE'), Handle::IOS_SUFFIX);
            $this->folk[$row->int('Z_PK')] = $key;
            $this->store->person(new Person($key, Handle::number($key), $row->nullableText('ZBOOKNAME'), $row->nullableText('ZOWNNAME'), $row->bool('ZBARRED')));
        }
        foreach ($this->database->rows($this->pouch->select('ZROOM', 'ORDER BY Z_PK')) as $row) {
            $people = $this->peopleOf($row->int('Z_PK'));
            $this->slips($row->int('Z_PK'), $this->store->conversation($this->conversation($row, $people['members'])), $people['keys']);
        }
        foreach ($this->database->rows('SELECT DISTINCT ZROOM FROM ZSLIP WHERE ZROOM IS NOT NULL AND ZROOM NOT IN (SELECT Z_PK FROM ZROOM)') as $row) {
            $this->store->finding('room_gone', 'ZSLIP.ZROOM', (string) $row->int('ZROOM'));
            $lost = new Conversation('room-'.$row->int('ZROOM'), ConversationKind::Unknown, null, null, null, false, null, null, 0, null, []);
            $this->slips($row->int('ZROOM'), $this->store->conversation($lost), []);
        }
    }

    private function source(): void
    {
        $row = $this->database->one($this->pouch->select('ZHOLT', 'LIMIT 1')) ?? new Row([]);
        $this->store->source(new Source('Otterpost', $row->nullableText('ZEDITION') ?? 'Otterpost', 'ios', Schema::GENERATION, Handle::toKey($row->nullableText('ZOWNHANDLE') ?? '', Handle::IOS_SUFFIX), $row->nullableText('ZOWNNAME')));
    }

    /** @return array{members: list<Member>, keys: array<int, string>} keys by ZROOMFOLK.Z_PK, also of people who are no members */
    private function peopleOf(int $room): array
    {
        $members = [];
        $keys = [];
        foreach ($this->database->few($this->pouch->select('ZROOMFOLK', 'WHERE ZROOM = ? ORDER BY Z_PK'), [$room]) as $row) {
            $key = $this->folk[$row->nullableInt('ZFOLK') ?? 0] ?? null;
            if (null === $key) {
                $key = 'folk-'.($row->nullableInt('ZFOLK') ?? 0);
                $this->store->person(new Person($key, null, null, null));
                $this->store->finding('person_gone', 'ZROOMFOLK.ZFOLK', $key);
            }
            $keys[$row->int('Z_PK')] = $key;
            if (!$row->bool('ZTRACE')) {
                $role = Codes::RANKS[$row->nullableInt('ZRANK') ?? 1] ?? MemberRole::Member;
                $members[] = new Member($key, $role, Clock::toMilliseconds($row->nullableFloat('ZSINCE')), Clock::toMilliseconds($row->nullableFloat('ZUNTIL')));
            }
        }

        return ['members' => $members, 'keys' => $keys];
    }

    /** @param list<Member> $members */
    private function conversation(Row $row, array $members): Conversation
    {
        $opaque = $this->pouch->withUnknownColumns('ZROOM', $row, self::foreign($row));
        $code = $row->nullableInt('ZSORT') ?? 0;
        $kind = Codes::ROOM_SORTS[$code] ?? ConversationKind::Unknown;
        if (ConversationKind::Unknown === $kind && Codes::FOREIGN !== $code) {
            $this->pouch->keepUnknown('unknown_conversation_kind', 'ZROOM.ZSORT', $code, $opaque);
        }
        $hush = $row->nullableFloat('ZHUSHUNTIL');

        return new Conversation(
            Handle::toKey($row->text('ZHANDLE'), Handle::IOS_SUFFIX), $kind, $row->nullableText('ZTITLE'), $row->nullableText('ZABOUT'), Clock::toMilliseconds($row->nullableFloat('ZFOUNDED')),
            $row->bool('ZSHELVED'), $row->nullableInt('ZPINPLACE'), -1.0 === $hush ? Conversation::MUTED_FOR_GOOD : Clock::toMilliseconds($hush), $row->nullableInt('ZUNREAD') ?? 0, null, $members, $opaque,
        );
    }

    /** @param array<int, string> $people */
    private function slips(int $room, int $conversationId, array $people): void
    {
        foreach ($this->database->rows($this->pouch->select('ZSLIP', 'WHERE ZROOM = ? ORDER BY ZPLACE, Z_PK'), [$room]) as $row) {
            $this->store->message($conversationId, $this->message($row, $people));
            $this->progress->advance(1);
        }
    }

    /** @param array<int, string> $people */
    private function message(Row $row, array $people): Message
    {
        $opaque = $this->pouch->withUnknownColumns('ZSLIP', $row, self::foreign($row));
        $code = $row->nullableInt('ZSORT') ?? 0;
        $kind = Codes::SLIP_SORTS[$code] ?? Kind::Unknown;
        if (Kind::Unknown === $kind && Codes::FOREIGN !== $code) {
            $this->pouch->keepUnknown('unknown_kind', 'ZSLIP.ZSORT', $code, $opaque);
        }
        $stage = $row->nullableInt('ZSTAGE') ?? 0;
        $state = Codes::STAGES[$stage] ?? DeliveryState::Unknown;
        if (DeliveryState::Unknown === $state && Codes::FOREIGN !== $stage) {
            $this->pouch->keepUnknown('unknown_state', 'ZSLIP.ZSTAGE', $stage, $opaque);
        }
        $flags = $row->nullableInt('ZFLAGS') ?? 0;
        if (0 !== ($flags & ~Schema::KNOWN_FLAGS)) {
            $this->pouch->keepUnknown('unknown_flag', 'ZSLIP.ZFLAGS', $flags & ~Schema::KNOWN_FLAGS, $opaque);
        }
        $extras = Extras::read($row->nullableText('ZEXTRAS'));
        if (NoticeKind::Unknown === $extras->notice?->kind && null !== $extras->unknownNotice) {
            $this->pouch->keepUnknown('unknown_notice', 'notice.sort', $extras->unknownNotice, $opaque);
        }
        $roomFolk = $row->nullableInt('ZROOMFOLK');

        return new Message(
            $row->nullableText('ZWIREID'), null === $roomFolk ? null : ($people[$roomFolk] ?? 'folk-'.$roomFolk), $row->bool('ZMINE'), $kind, $row->nullableText('ZBODY'),
            Clock::toMilliseconds($row->nullableFloat('ZSENT')) ?? 0, Clock::toMilliseconds($row->nullableFloat('ZLANDED')), $state,
            0 !== ($flags & Schema::FLAG_STARRED), 0 !== ($flags & Schema::FLAG_FORWARDED), Extras::answeredWireId($row->nullableText('ZANSWER')), $extras->notice,
            $this->attachments($row->int('Z_PK')), $extras->reactions, $extras->receipts, $opaque,
        );
    }

    /** @return list<Attachment> */
    private function attachments(int $slip): array
    {
        $list = [];
        foreach ($this->database->few($this->pouch->select('ZPARCEL', 'WHERE ZSLIP = ? ORDER BY Z_PK'), [$slip]) as $row) {
            $path = $row->nullableText('ZPATH') ?? '';
            $found = '' === $path ? ['presence' => Presence::Missing, 'bytes' => 0, 'sha256' => null] : $this->files->look($path);
            if (Presence::Refused === $found['presence']) {
                $this->store->finding('attachment_outside', 'ZPARCEL.ZPATH', $path);
            }
            $span = $row->nullableFloat('ZSPAN');
            $list[] = new Attachment(
                $path, $row->nullableText('ZSHOWNNAME'), $row->nullableText('ZMEDIATYPE') ?? 'application/octet-stream', Presence::Present === $found['presence'] ? $found['bytes'] : $row->nullableInt('ZOCTETS') ?? 0, $found['sha256'], $found['presence'],
                null === $span ? null : (int) round($span * 1000), $row->nullableInt('ZWIDTH'), $row->nullableInt('ZHEIGHT'), $this->preview($row->nullableText('ZPEEKPATH')),
            );
        }

        return $list;
    }

    private function preview(?string $path): ?string
    {
        $stream = null === $path ? null : $this->files->open($path);
        if (null === $stream) {
            return null;
        }
        $bytes = stream_get_contents($stream, self::PREVIEW_LIMIT);
        fclose($stream);

        return false === $bytes || '' === $bytes ? null : $bytes;
    }

    /** @return array<string, scalar|null> what an earlier move put into ZFOREIGN */
    private static function foreign(Row $row): array
    {
        $list = $row->nullableText('ZFOREIGN');
        $details = [];
        foreach (null === $list ? [] : PropertyList::read($list) as $key => $value) {
            if (is_scalar($value)) {
                $details[(string) $key] = $value;
            }
        }

        return $details;
    }
}
