<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\SoundStore;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** A chat store that came from elsewhere is taken over as it is, or refused: nobody trips over it later. */
final class SoundStoreTest extends TestCase
{
    use Scratch;

    public function testWhatIsOneIsTakenOverAsItIs(): void
    {
        for ($seed = 1; $seed <= 30; ++$seed) {
            $chats = Chats::random($seed, $this->path("$seed.sqlite"), $this->path('files'), null);
            (new ReadingHere())->takeOver($this->path("$seed.sqlite"), $this->path("taken-$seed"), new NoProgress());
            self::assertSame($chats->summary(), (new ChatStore($this->path("taken-$seed")))->summary(), "Seed $seed.");
        }
    }

    public function testAPlanIsTakenOverAndIsNoChats(): void
    {
        $path = $this->path('plan.sqlite');
        Chats::random(3, $path, $this->path('files'), null)->close();
        SoundStore::ensureNoPlan($path, 'it');
        (new \SQLite3($path))->exec("UPDATE message SET fate = 'left_out' WHERE message_id = 2");
        (new ReadingHere())->takeOver($path, $this->path('taken'), new NoProgress());
        $this->expectException(UnusableInput::class);
        SoundStore::ensureNoPlan($this->path('taken'), 'it');
    }

    /** @return iterable<string, array{string}> */
    public static function harm(): iterable
    {
        foreach ([
            'a kind of message that there is none' => "UPDATE message SET kind = 'sermon' WHERE message_id = {id}",
            'a number that is a text' => "UPDATE message SET sent_at = 'now' WHERE message_id = {id}",
            'details that are no JSON' => "UPDATE message SET details = '{\"notice\":' WHERE message_id = {id}",
            'details of another shape' => "UPDATE message SET details = '{\"notice\":[7]}' WHERE message_id = {id}",
            'reactions of another shape' => "UPDATE message SET reactions = '[\"x\"]' WHERE message_id = {id}",
            'a state that there is none' => "UPDATE message SET state = 'lost at sea' WHERE message_id = {id}",
            'a fate that there is none' => "UPDATE message SET fate = 'sunk' WHERE message_id = {id}",
            'a message taken out' => 'DELETE FROM message WHERE message_id = {id}',
            'a message of no conversation' => 'UPDATE message SET conversation_id = 9999 WHERE message_id = {id}',
            'a message of another place' => 'UPDATE message SET message_id = 99999 WHERE message_id = {id}',
            'an attachment of no message' => "INSERT INTO attachment VALUES (NULL, 99999, 'a', NULL, 'image/jpeg', 1, "
                ."NULL, 'present', NULL, NULL, NULL, 0, NULL)",
            'an attachment of a message that has none' => "INSERT INTO attachment SELECT NULL, message_id, 'a', NULL, "
                ."'image/jpeg', 1, NULL, 'present', NULL, NULL, NULL, 0, NULL FROM message WHERE message_id = {id}",
            'attachments that are not there' => "UPDATE message SET attachments = 'abc' WHERE message_id = {id}",
            'a presence that there is none' => "UPDATE attachment SET presence = 'somewhere'",
            'a size that is a text' => "UPDATE attachment SET bytes = 'large'",
            'a kind of conversation that there is none' => "UPDATE conversation SET kind = 'choir'",
            'more messages than there are' => 'UPDATE conversation SET messages = messages + 1',
            'a rank that there is none' => "INSERT OR REPLACE INTO member SELECT conversation_id, 'x', 'bishop', NULL, "
                .'NULL FROM conversation LIMIT 1',
            'a person without a key' => "UPDATE person SET barred = 'perhaps'",
            'a platform that there is none' => "UPDATE about SET value = 'abacus' WHERE name = 'platform'",
            'a cipher that there is none' => "INSERT INTO content_key VALUES ('a', 'rot13', 'b')",
        ] as $what => $sql) {
            yield $what => [$sql];
        }
    }

    #[DataProvider('harm')]
    public function testWhatIsNoneIsRefused(string $sql): void
    {
        $seed = 0;
        do {
            $path = $this->path('store-'.++$seed.'.sqlite');
            $chats = Chats::random($seed, $path, $this->path('files'), null);
        } while ($chats->messageCount() < 20 || $chats->summary()['attachments'] < 2 || [] === $chats->titles());
        $chats->close();
        $database = new Database(new \SQLite3($path));
        $id = $database->one('SELECT message_id FROM message WHERE attachments IS NULL ORDER BY message_id LIMIT 1')
            ?->int('message_id');
        self::assertNotNull($id);
        $before = hash_file('sha256', $path);
        $database->execute(str_replace('{id}', (string) $id, $sql));
        $database->close();
        self::assertNotSame($before, hash_file('sha256', $path), 'It was harmed.');
        try {
            (new ReadingHere())->takeOver($path, $this->path('taken'), new NoProgress());
            self::fail('It was taken over.');
        } catch (UnusableInput $unusable) {
            self::assertContains($unusable->reason, ['damaged', 'cut_short'], $unusable->getMessage());
        }
        self::assertFileDoesNotExist($this->path('taken'));
    }
}
