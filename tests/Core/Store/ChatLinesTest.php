<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\ReadingCopy\Selected;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Lines\LinesReader;
use Geschenk\Core\Store\Lines\LinesWriter;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Chats as JSON Lines: what is written is read again, field by field; what is no such file harms nobody. */
final class ChatLinesTest extends TestCase
{
    use Scratch;

    /** @return iterable<string, array{int}> */
    public static function seeds(): iterable
    {
        $seeds = (int) (getenv('GESCHENK_SEEDS') ?: 60);
        for ($seed = 1; $seed <= $seeds; ++$seed) {
            yield "seed $seed" => [$seed];
        }
    }

    #[DataProvider('seeds')]
    public function testWhatIsWrittenIsReadAgainFieldByField(int $seed): void
    {
        $chats = Chats::random($seed, $this->path('chats.sqlite'), $this->path('files'), null);
        $lines = $this->written($chats);
        $read = LinesReader::read($lines, $this->path('again.sqlite'));
        self::assertSame([$chats->messageCount(), 0], [$read['messages'], $read['unreadable']]);
        foreach (array_keys(StoreSchema::TABLES) as $table) {
            $read = $this->rows($this->path('again.sqlite'), $table);
            self::assertSame($this->rows($this->path('chats.sqlite'), $table), $read, $table);
        }
        $again = $this->written(new ChatStore($this->path('again.sqlite')), 'again.jsonl');
        self::assertFileEquals($lines, $again, 'And it is written the same.');
        foreach (file($lines) ?: [] as $line) {
            self::assertIsArray(json_decode($line, true), 'Any program reads a line.');
        }
    }

    public function testALongTextIsWrittenInPiecesAndReadAsOne(): void
    {
        foreach ([
            'two bytes a letter' => str_repeat('ö', 1_400_001), 'no text' => str_repeat("\xFF\x00a", 700_001),
            'four bytes a letter' => 'x'.str_repeat('🧶', 400_001),
            'looks escaped' => 'base64:'.str_repeat('A', 1_500_000),
        ] as $what => $body) {
            Folder::remove($this->path('long'));
            Folder::make($this->path('long'));
            $chats = $this->oneMessage($body);
            $lines = $this->written($chats, 'long/chats.jsonl');
            self::assertLessThan(1, LinesReader::read($lines, $this->path('long/again.sqlite'))['unreadable'], $what);
            $again = new ChatStore($this->path('long/again.sqlite'));
            $message = $again->messages(1)->current()->message;
            self::assertTrue($body === $message->text, $what);
        }
    }

    public function testWhereverItIsCutNothingOfItIsTaken(): void
    {
        $lines = (string) file_get_contents($this->written(
            Chats::random(7, $this->path('chats.sqlite'), $this->path('files'), null),
        ));
        $ends = [strlen($lines) - 1, strlen($lines) - 30, (int) (strlen($lines) / 2), 200, 20, 8, 0];
        foreach ($ends as $end) {
            file_put_contents($this->path('cut.jsonl'), substr($lines, 0, $end));
            try {
                LinesReader::read($this->path('cut.jsonl'), $this->path('cut.sqlite'));
                self::fail("Cut at $end.");
            } catch (UnusableInput $refused) {
                self::assertContains($refused->reason, ['cut_short', 'not_messenger_data']);
            }
            self::assertFileDoesNotExist($this->path('cut.sqlite'));
            self::assertFileDoesNotExist($this->path('cut.sqlite.part'));
        }
    }

    public function testALineThatIsNoneCostsItselfAndIsListed(): void
    {
        $head = '{"chats":{"version":1,"messenger":"Otterpost","edition":"Otterpost","platform":"ios","generation":1,'
            .'"account":"+447700900001"}}';
        $conversation = '{"conversation":{"key":"+447700900500","kind":"direct"}}';
        $good = '{"message":{"from_owner":1,"kind":"text","body":"Gone fishing","sent_at":1,"state":"read","marks":0}}';
        $bad = [
            '{"message":{"from_owner":1,"kind":"song","sent_at":1,"state":"read","marks":0}}',
            '{"message":{"from_owner":1,"kind":"text","body":["no text"],"sent_at":1,"state":"read","marks":0}}',
            '{"message":{"from_owner":1,"kind":"text","sent_at":"soon","state":"read","marks":0}}',
            '{"message":{"from_owner":1,"kind":"text","sent_at":1,"state":"read","marks":0,"reactions":[[1,2]]}}',
            '{"message":{"from_owner":1,"kind":"text","sent_at":1,"state":"read","marks":0,"details":{"content":7}}}',
            '{"message":{"from_owner":1,"kind":"text","sent_at":1,"state":"read","marks":0,"attachments":["a"]}}',
            '{"message":7}', '{"song":{}}', '[]', 'null', str_repeat('[', 5_000), "\x00\xFF", '{"message":{',
            '{"label":{"tint":1}}', '{"content_key":{"path":"a","cipher":"rot13","key":""}}',
        ];
        file_put_contents($this->path('bad.jsonl'), implode("\n", [
            $head, $good, $conversation, $good, ...$bad, $good, '{"end":{"conversations":1,"messages":2}}', '',
        ]));
        $read = LinesReader::read($this->path('bad.jsonl'), $this->path('bad.sqlite'));
        self::assertSame(['conversations' => 1, 'messages' => 2, 'unreadable' => count($bad) + 1], $read);
        $chats = new ChatStore($this->path('bad.sqlite'));
        $listed = array_filter($chats->findings(), static fn (array $one): bool => 'row_unreadable' === $one['code']);
        self::assertCount(count($bad) + 1, $listed);
        self::assertContains('line 2', array_column($listed, 'subject'), 'A message of no conversation.');
    }

    public function testAnotherVersionIsSaid(): void
    {
        file_put_contents($this->path('new.jsonl'), '{"chats":{"version":2}}'."\n");
        $this->expectExceptionMessage('unknown_generation');
        LinesReader::read($this->path('new.jsonl'), $this->path('new.sqlite'));
    }

    private function oneMessage(string $body): ChatStore
    {
        return Chats::store($this->path('long/chats.sqlite'), static function (StoreWriter $writer) use ($body): void {
            $id = $writer->conversation(new Conversation(
                '+447700900500', ConversationKind::Direct, null, null, null, false, null, null, 0, null, [],
            ));
            $writer->message($id, new Message(
                'w1', null, true, Kind::Text, $body, 1_700_000_000_000, null, DeliveryState::Read,
            ));
        });
    }

    private function written(ChatStore $chats, string $name = 'chats.jsonl'): string
    {
        $stream = fopen($this->path($name), 'w') ?: self::fail('There is room.');
        foreach (LinesWriter::lines($chats, new Selected(), $chats->people()) as $line) {
            fwrite($stream, $line);
        }
        fclose($stream);

        return $this->path($name);
    }

    /** @return list<array<array-key, mixed>> */
    private function rows(string $store, string $table): array
    {
        $database = Database::openReadOnly($store);
        $rows = iterator_to_array($database->lists("SELECT * FROM $table"), false);
        $database->close();

        return $rows;
    }
}
