<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** The awkward rows that no writer of ours makes. */
final class AndroidReaderTest extends TestCase
{
    use Scratch;

    public function testTheNewestSlipsAreInTheWriteAheadLogAloneAndAreRead(): void
    {
        $folder = Phones::giving($this->path(), [], false)->data('otterpost');
        self::assertFileExists($folder.'/pouch.db-wal');
        self::assertCount(6, $this->withWireId($folder, 'NEWEST-'));
        unlink($folder.'/pouch.db-wal');
        self::assertCount(
            0, $this->withWireId($folder, 'NEWEST-'), 'They sit in the main file too, so the test proves nothing.',
        );
    }

    public function testWhatIsUnknownGoesAlongAndIsListed(): void
    {
        $source = $this->open();
        $codes = array_column($source->chats->findings(), 'count', 'code');
        self::assertSame(
            [
                'time_before_1970' => 1, 'time_in_future' => 1, 'time_zero' => 1, 'unknown_column' => 1,
                'unknown_flag' => 1, 'unknown_kind' => 1, 'unknown_notice' => 1, 'unknown_state' => 1,
            ],
            $codes,
        );
        $byWire = $this->withWireId(null, 'ODD-', $source);
        self::assertSame(['otterpost-android:slip.sort' => 71], $byWire['ODD-KIND-01']->opaque);
        self::assertSame(Kind::Unknown, $byWire['ODD-KIND-01']->kind);
        self::assertSame(['otterpost-android:slip.shimmer' => 'aurora'], $byWire['ODD-COLUMN-1']->opaque);
        self::assertSame(['otterpost-android:slip.flags' => 64], $byWire['ODD-FLAG-01']->opaque);
    }

    public function testUnknownColumnsOfReactionsReceiptsAndMembersGoAlongToo(): void
    {
        $folder = Phones::giving($this->path(), [], false)->data('otterpost');
        $database = new \SQLite3($folder.'/pouch.db');
        $database->exec("ALTER TABLE nod ADD COLUMN size TEXT; ALTER TABLE mark ADD COLUMN device TEXT;
            ALTER TABLE room_folk ADD COLUMN nick TEXT;
            UPDATE nod SET size = 'large' WHERE rowid = 1; UPDATE mark SET device = 'tablet' WHERE rowid = 1;
            UPDATE room_folk SET nick = 'Bee' WHERE rowid = 1");
        $database->close();
        $source = ChatSource::open($folder, new Formats(), false);
        $subjects = array_column(
            array_filter($source->chats->findings(), static fn (array $f): bool => 'unknown_column' === $f['code']),
            'count', 'subject',
        );
        self::assertSame(['mark.device' => 1, 'nod.size' => 1, 'room_folk.nick' => 1], $subjects);
        $carried = [];
        foreach ($source->chats->conversations() as $conversation) {
            $carried += $conversation->conversation->opaque;
            foreach ($source->chats->messages($conversation->id) as $stored) {
                $carried += $stored->message->opaque;
            }
        }
        self::assertSame(
            ['large', 'tablet'],
            [$carried['otterpost-android:nod.0.size'] ?? null, $carried['otterpost-android:mark.0.device'] ?? null],
        );
        self::assertContains('Bee', $carried);
    }

    public function testOddTextsAndTimesAreKeptToTheByte(): void
    {
        $m = $this->withWireId(null, 'T', $this->open());
        self::assertSame("Before\0after the NUL", $m['TEXT-NUL']->text);
        self::assertSame("Not quite \xC3\x28 UTF-8", $m['TEXT-BROKEN']->text);
        self::assertSame(0, $m['TIME-ZERO']->sentAt);
        self::assertSame(-86_400_123, $m['TIME-EARLY']->sentAt);
        self::assertSame(4_133_980_800_777, $m['TIME-LATE']->sentAt);
        self::assertGreaterThan(64_000, strlen($m['TEXT-LONG']->text ?? ''));
    }

    public function testSlipsWithoutWireIdAndWithTheSameOneTwiceAreAllThere(): void
    {
        $texts = [];
        $chats = $this->open()->chats;
        foreach ($chats->conversations() as $conversation) {
            foreach ($chats->messages($conversation->id) as $message) {
                $texts[] = $message->message->text;
            }
        }
        $counts = array_count_values(array_filter($texts, is_string(...)));
        self::assertSame(
            [2, 1, 2],
            [
                $counts['Sent twice by a bad connection.'], $counts['No wire id, said once.'],
                $counts['No wire id, said twice.'],
            ],
        );
    }

    public function testMissingAndEmptyFilesAreToldApart(): void
    {
        $m = $this->withWireId(null, 'FILE-', $this->open());
        self::assertSame(
            ['missing', 'empty', 'wrong_type'],
            [
                $m['FILE-GONE-1']->attachments[0]->presence->value, $m['FILE-EMPTY-1']->attachments[0]->presence->value,
                $m['FILE-NAME-1']->attachments[0]->presence->value,
            ],
        );
        self::assertSame(48_213, $m['FILE-GONE-1']->attachments[0]->bytes);
    }

    public function testSlipsWhoseRoomIsGoneKeepARoomOfTheirOwn(): void
    {
        $folder = Phones::giving($this->path(), [], false)->data('otterpost');
        $database = new \SQLite3($folder.'/pouch.db');
        $database->exec('DELETE FROM room WHERE room_id = 1');
        $lost = $database->querySingle('SELECT COUNT(*) FROM slip WHERE room_id = 1');
        $database->close();
        $chats = ChatSource::open($folder, new Formats(), false)->chats;
        $room = $chats->conversation('conversation-1');
        self::assertSame(ConversationKind::Unknown, $room?->conversation->kind);
        self::assertSame($lost, $chats->messageCount($room->id));
        self::assertContains('room_gone', array_column($chats->findings(), 'code'));
    }

    private function open(): ChatSource
    {
        return ChatSource::open(
            Phones::giving($this->path())->data('otterpost'), new Formats(), true,
        );
    }

    /** @return array<string, Message> by wire id */
    private function withWireId(?string $folder, string $prefix, ?ChatSource $source = null): array
    {
        $source ??= ChatSource::open((string) $folder, new Formats(), true);
        $found = [];
        foreach ($source->chats->conversations() as $conversation) {
            foreach ($source->chats->messages($conversation->id) as $stored) {
                if (str_starts_with($stored->message->wireId ?? '', $prefix)) {
                    $found[(string) $stored->message->wireId] = $stored->message;
                }
            }
        }

        return $found;
    }
}
