<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Tests\Support\Backups;
use Geschenk\Tests\Support\FaultyLink;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * Short reads, errors and changes at random bytes: what is called kept is what the phone has, and the rest is named.
 */
#[Group('search')]
final class ReadErrorsTest extends TestCase
{
    use Scratch;

    public function testWhatIsKeptIsWhatThePhoneHasOrIsNamed(): void
    {
        $said = ['unreadable' => 0, 'whole' => 0, 'faults' => 0];
        $seeds = (int) (getenv('GESCHENK_SEEDS') ?: 80);
        for ($seed = 0; $seed < $seeds; ++$seed) {
            $chance = new Randomizer(new Mt19937($seed));
            $phone = Phones::giving($this->path('phones'), [], false, 12);
            $data = $phone->data('otterpost');
            $link = new FaultyLink($phone, $chance, $chance->getInt(0, 4));
            $files = iterator_to_array(Folder::files($data, 'parcels'), false);
            assert([] !== $files);
            foreach ($chance->pickArrayKeys($files, $chance->getInt(1, min(2, count($files)))) as $key) {
                if (0 === $chance->getInt(0, 2)) {
                    $link->unreadable[$files[$key]] = $chance->getInt(
                        0, max(0, (int) filesize($data.'/'.$files[$key]) - 1),
                    );
                }
            }
            Folder::remove($this->path('bag'));
            Folder::remove($this->path('bag.part'));
            try {
                (new Backups())->overCable($link, $this->path('bag'));
            } catch (PhoneRefuses $refusal) {
                // Too much changed meanwhile; the next try begins where this one was.
                self::assertStringContainsString('still_writing', $refusal->getMessage(), "seed $seed");
                (new Backups())->overCable($link, $this->path('bag'));
            }
            $context = "seed $seed: ".implode('; ', $link->log);
            Bag::validate($this->path('bag'));
            foreach (Folder::files($data) as $path) {
                if (isset($link->unreadable[$path])) {
                    self::assertFileDoesNotExist($this->path('bag/data/raw/'.$path), $context);
                } else {
                    self::assertFileEquals($data.'/'.$path, $this->path('bag/data/raw/'.$path), $context);
                }
            }
            $this->holdAgainst(new ChatStore($this->path('bag/data/chats.sqlite')), $data, $link, $context);
            $said['unreadable'] += count($link->unreadable);
            $said['faults'] += count($link->log);
            ++$said['whole'];
        }
        self::assertGreaterThan($seeds / 10, $said['unreadable']);
        self::assertGreaterThan($seeds / 4, $said['faults']);
    }

    /** The system's own error, which PHP takes for the end of the file. */
    public function testAnErrorOfTheStorageIsNotTheEndOfAFile(): void
    {
        $phone = Phones::giving($this->path('phones'), [], false, 12);
        $largest = '';
        foreach (Folder::files($phone->data('otterpost'), 'parcels') as $path) {
            $bytes = static fn (string $of): int => (int) @filesize($phone->data('otterpost').'/'.$of);
            $largest = '' === $largest || $bytes($path) > $bytes($largest) ? $path : $largest;
        }
        $full = $phone->data('otterpost').'/'.$largest;
        touch($full, time() - 100);
        $code = sprintf(
            'require %s; $link = Geschenk\Tests\Support\Phones::link(new Geschenk\Standin\Phone\PhoneFolder(%s)); '
                .'$pulled = (new Geschenk\Core\Transfer\Pull($link, "otterpost"))->file(%s, %s, %s); '
                .'echo json_encode([$pulled->bytes, $pulled->isWhole]);',
            ...array_map(static fn (string $s): string => var_export($s, true), [
                dirname(__DIR__, 2).'/vendor/autoload.php', $phone->path, $largest, $this->path('target'),
                $this->path('piece'),
            ]),
        );
        foreach (['1+' => 0, '2+' => null] as $when => $came) {
            exec(sprintf(
                'strace -qq -o /dev/null -P %s -e trace=read -e inject=read:error=EIO:when=%s %s -r %s 2>&1',
                escapeshellarg($full), $when, escapeshellarg(\PHP_BINARY), escapeshellarg($code),
            ), $output, $status);
            self::assertSame(0, $status, implode("\n", $output));
            [$bytes, $isWhole] = (array) json_decode((string) array_pop($output), true);
            self::assertFalse($isWhole, "EIO at reading $when");
            self::assertIsInt($bytes);
            self::assertLessThan(filesize($full), $bytes);
            null === $came ?: self::assertSame($came, $bytes);
        }
    }

    public function testADatabaseThatCanNotBeReadToItsEndIsTakenAsFarAsItCanAndSaysSo(): void
    {
        foreach (['pouch.db-wal' => 0.6, 'pouch.db' => 0.9] as $file => $share) {
            $n = crc32($file);
            $phone = Phones::giving($this->path('phones'), [], false, 150);
            $before = (new ReadingHere());
            $before->read(
                $phone->data('otterpost'), new \Geschenk\Core\Files\Content\FolderFiles($phone->data('otterpost'),
                    false),
                $this->path("whole-$n.sqlite"), new NoProgress(),
            );
            $whole = (new ChatStore($this->path("whole-$n.sqlite")))->messageCount();
            $link = new FaultyLink($phone, new Randomizer(new Mt19937(1)), 0);
            $link->unreadable[$file] = (int) ($share * (int) filesize($phone->data('otterpost').'/'.$file));
            (new Backups())->overCable($link, $this->path("bag-$n"));
            $chats = new ChatStore($this->path("bag-$n/data/chats.sqlite"));
            $findings = array_column($chats->findings(), 'example', 'code');
            self::assertStringContainsString('of', (string) ($findings['file_unreadable'] ?? ''), $file);
            self::assertLessThan($whole + ('pouch.db' === $file ? 1 : 0), $chats->messageCount(), $file);
            self::assertTrue(
                array_key_exists(
                    'loss_uncounted', $findings,
                ) || $whole === $chats->messageCount() + $chats->summary()['lost'],
                $file,
            );
        }
    }

    private function holdAgainst(ChatStore $chats, string $data, FaultyLink $link, string $context): void
    {
        $database = new \SQLite3($data.'/pouch.db');
        self::assertSame($database->querySingle('SELECT COUNT(*) FROM slip'), $chats->messageCount(), $context);
        $database->close();
        $unreadable = 0;
        foreach ($chats->conversations() as $conversation) {
            foreach ($chats->messages($conversation->id) as $stored) {
                foreach ($stored->message->attachments as $attachment) {
                    $expected = isset($link->unreadable[$attachment->path]) ? Presence::Unreadable : null;
                    $unreadable += null === $expected ? 0 : 1;
                    self::assertSame(
                        null !== $expected, Presence::Unreadable === $attachment->presence,
                        $context.' at '.$attachment->path,
                    );
                    self::assertNotSame(Presence::Missing, $attachment->presence, $context.' at '.$attachment->path);
                }
            }
        }
        $named = array_column(
            array_filter($chats->findings(), static fn (array $f): bool => 'file_unreadable' === $f['code']), 'subject',
        );
        self::assertEqualsCanonicalizing(array_keys($link->unreadable), $named, $context);
        self::assertGreaterThanOrEqual(0, $unreadable);
    }
}
