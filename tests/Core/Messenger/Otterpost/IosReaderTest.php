<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\PropertyList;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What an iOS database may hold that our writer would not make. */
final class IosReaderTest extends TestCase
{
    use Scratch;

    private ?ChatSource $source = null;

    public function testUnknownCodesColumnsAndTablesGoAlongAndAreListed(): void
    {
        $chats = $this->reading(
            'ALTER TABLE ZSLIP ADD COLUMN ZGLOW TEXT', 'CREATE TABLE ZGLOWS (Z_PK INTEGER)',
            "UPDATE ZSLIP SET ZGLOW = 'soft', ZSORT = 40, ZSTAGE = 41, ZFLAGS = 128 WHERE Z_PK = 1",
            'UPDATE ZROOM SET ZSORT = 42 WHERE Z_PK = 1',
        );
        $found = array_column($chats->findings(), 'subject', 'code');
        self::assertSame([
            'unknown_column' => 'ZSLIP.ZGLOW', 'unknown_conversation_kind' => 'ZROOM.ZSORT = 42',
            'unknown_flag' => 'ZSLIP.ZFLAGS = 128', 'unknown_kind' => 'ZSLIP.ZSORT = 40',
            'unknown_state' => 'ZSLIP.ZSTAGE = 41', 'unknown_table' => 'ZGLOWS',
        ], $found);
        $message = $this->first($chats);
        self::assertSame([Kind::Unknown, DeliveryState::Unknown], [$message->kind, $message->state]);
        self::assertEquals(
            [
                'otterpost-ios:ZSLIP.ZSORT' => 40, 'otterpost-ios:ZSLIP.ZSTAGE' => 41,
                'otterpost-ios:ZSLIP.ZFLAGS' => 128, 'otterpost-ios:ZSLIP.ZGLOW' => 'soft',
            ],
            $message->opaque,
        );
    }

    public function testUnknownCodesOfItsOwnComeBackToTheirColumns(): void
    {
        $chats = $this->reading(
            'UPDATE ZSLIP SET ZSORT = 40, ZSTAGE = 41, ZFLAGS = 132 WHERE Z_PK = 1', 'UPDATE ZROOM SET ZSORT = 42',
        );
        Chats::through($chats, $this->path(), Chats::format('ios'), $this->path('again'), $this->path('again.sqlite'));
        $row = Database::openReadOnly($this->path('again/Pouch.sqlite'))->one(
            'SELECT s.ZSORT, s.ZSTAGE, s.ZFLAGS, s.ZFOREIGN, r.ZSORT AS ROOM FROM ZSLIP s '
                .'JOIN ZROOM r ON r.Z_PK = s.ZROOM WHERE s.Z_PK = 1',
        );
        self::assertSame([40, 41, 132, null, 42], array_values($row->values ?? []));
    }

    public function testAPropertyListThatIsDamagedCostsWhatStoodInItAndIsSaid(): void
    {
        $whole = $this->first($this->reading());
        $chats = $this->reading(
            "UPDATE ZSLIP SET ZEXTRAS = '<plist><dict><key>nods', ZANSWER = 'no list', ZFOREIGN = '<' WHERE Z_PK = 1",
        );
        $findings = array_values(
            array_filter($chats->findings(), static fn (array $f): bool => 'value_unreadable' === $f['code']),
        );
        self::assertSame(['ZSLIP.ZANSWER', 'ZSLIP.ZEXTRAS', 'ZSLIP.ZFOREIGN'], array_column($findings, 'subject'));
        self::assertSame('no list', $findings[0]['example'] ?? '');
        self::assertSame([3, 0], [$chats->messageCount(), $chats->summary()['lost']]);
        $left = $this->first($chats);
        self::assertSame(
            [$whole->text, $whole->sentAt, [], null], [$left->text, $left->sentAt, $left->reactions, $left->replyTo],
        );
    }

    public function testASenderWhoIsNoMemberLeavesOnlyATrace(): void
    {
        $chats = $this->reading();
        $database = Database::openReadOnly($this->path('ios/Pouch.sqlite'));
        self::assertSame(1, $database->one('SELECT COUNT(*) AS n FROM ZROOMFOLK WHERE ZTRACE = 1')?->int('n'));
        $room = $chats->conversation('raft-1') ?? self::fail();
        self::assertSame(
            ['+447700900002'], array_map(static fn (Member $m): string => $m->personKey, $room->conversation->members),
        );
        $senders = [];
        foreach ($chats->messages($room->id) as $m) {
            $senders[] = $m->message->senderKey;
        }
        self::assertSame(['+447700900002', '+447700900003', null], $senders);
    }

    public function testAReplyHoldsACopyOfTheAnsweredSlipAndOnlyItsIdWhenThatIsGone(): void
    {
        $this->reading();
        $answers = [];
        foreach (Database::openReadOnly($this->path('ios/Pouch.sqlite'))->few(
            'SELECT ZANSWER FROM ZSLIP WHERE ZANSWER IS NOT NULL ORDER BY Z_PK',
        ) as $row) {
            $answers[] = array_keys(PropertyList::read($row->text('ZANSWER')));
        }
        self::assertSame([['wireId', 'who', 'mine', 'sort', 'sent', 'body'], ['wireId']], $answers);
    }

    public function testPeopleAndRoomsThatAreGoneAreListed(): void
    {
        $chats = $this->reading('DELETE FROM ZFOLK WHERE Z_PK = 1');
        self::assertContains('person_gone', array_column($chats->findings(), 'code'));
        self::assertSame('person-1', $this->first($chats)->senderKey);
        $chats = $this->reading('DELETE FROM ZROOM');
        self::assertSame(3, $chats->messageCount($chats->conversation('conversation-1')?->id));
    }

    public function testHandlesKeepWhatTheyDoNotKnow(): void
    {
        self::assertSame('+447700900001', Handle::toKey('+447700900001~stream', Handle::IOS_SUFFIX));
        self::assertSame('+447700900001~river', Handle::toKey('+447700900001~river', Handle::IOS_SUFFIX));
        self::assertSame('+447700900001~river', Handle::fromKey('+447700900001~river', Handle::IOS_SUFFIX));
        self::assertSame(
            [null, '+447700900001', null],
            [Handle::number('raft-1'), Handle::number('+447700900001'), Handle::number('+0')],
        );
    }

    public function testFormatsAreFoundByTheirFolders(): void
    {
        $names = array_map(
            static fn (Format $format): string => $format->messenger()->name.' '.$format->platform()->value,
            (new Formats())->all(),
        );
        self::assertSame(['Otterpost android', 'Otterpost android', 'Otterpost android', 'Otterpost ios'], $names);
        self::assertNotNull((new Formats())->writing('Otterpost', Platform::Android)?->writer());
        self::assertNull((new Formats())->writing('Another', Platform::Android));
    }

    private function reading(string ...$changes): ChatStore
    {
        foreach (['ios', 'x.sqlite', 'y.sqlite'] as $old) {
            Folder::remove($this->path($old));
        }
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $id = $w->conversation(
                new Conversation(
                    'raft-1', ConversationKind::Group, 'Room', null, 5, false, null, null, 0, null,
                    [new Member('+447700900002', MemberRole::Owner, 5, null)],
                ),
            );
            $w->message($id, Chats::text('asked', 1_000, 'W1'));
            $w->message(
                $id,
                new Message(
                    'W2', '+447700900003', false, Kind::Text, 'answered', 2_000, null, DeliveryState::Seen,
                    replyTo: 'W1',
                ),
            );
            $w->message(
                $id,
                new Message(
                    'W3', null, true, Kind::Text, 'answered what is gone', 3_000, null, DeliveryState::Read,
                    replyTo: 'GONE',
                ),
            );
        });
        Chats::through($chats, $this->path(), Chats::format('ios'), $this->path('ios'), $this->path('y.sqlite'));
        $database = new \SQLite3($this->path('ios/Pouch.sqlite'));
        foreach ($changes as $change) {
            $database->exec($change);
        }
        $database->close();
        // Held until the test ends: the scratch store lives as long as the source.
        $this->source = ChatSource::open($this->path('ios'), new Formats(), true);

        return $this->source->chats;
    }

    private function first(ChatStore $chats): Message
    {
        foreach ($chats->conversations() as $conversation) {
            foreach ($chats->messages($conversation->id) as $stored) {
                return $stored->message;
            }
        }
        self::fail('There is no message.');
    }
}
