<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Android\SealedBackup;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class SealedBackupTest extends TestCase
{
    use Scratch;
    use TestTrait;

    private const DIGITS = '0123456789abcdef0123456789abcdef0123456789abcdef0123456789abcdef';

    public function testWhatWasSealedComesBack(): void
    {
        $this->limitTo(30)->forAll(
            Generators::choose(0, 3_000_000), Generators::choose(1, 1000),
        )->then(function (int $length, int $seed): void {
            $bytes = (new \Random\Randomizer(new \Random\Engine\Mt19937($seed)))->getBytes(max(1, $length));
            file_put_contents($this->path('in'), 0 === $length ? '' : $bytes);
            SealedBackup::seal($this->path('in'), $this->path('sealed'), BackupKey::of(self::DIGITS));
            SealedBackup::open(
                $this->path('sealed'), BackupKey::of(strtoupper(chunk_split(self::DIGITS, 8, ' '))), $this->path('out'),
            );
            self::assertSame(sha1_file($this->path('in')), sha1_file($this->path('out')));
        });
    }

    public function testAPasswordOpensItAndNoOther(): void
    {
        file_put_contents($this->path('in'), 'chats');
        SealedBackup::seal($this->path('in'), $this->path('sealed'), BackupKey::of('pässwort mit ü'));
        SealedBackup::open($this->path('sealed'), BackupKey::of('pässwort mit ü'), $this->path('out'));
        self::assertSame('chats', file_get_contents($this->path('out')));
        $this->assertRefused('sealed_wrong_key', BackupKey::of('pässwort mit u'));
        $this->assertRefused('sealed_wants_password', BackupKey::of(self::DIGITS));
    }

    public function testAWrongKeyACutFileAndAChangedByteAreToldApartAndNothingIsSaidOfHowWrongAKeyWas(): void
    {
        file_put_contents($this->path('in'), random_bytes(2_500_000));
        SealedBackup::seal($this->path('in'), $this->path('sealed'), BackupKey::of(self::DIGITS));
        $good = (string) file_get_contents($this->path('sealed'));
        $near = $this->assertRefused('sealed_wrong_key', BackupKey::of(substr(self::DIGITS, 0, 63).'0'));
        $far = $this->assertRefused('sealed_wrong_key', BackupKey::of(str_repeat('e', 64)));
        self::assertSame($near, $far);
        foreach ([20, SealedBackup::HEADER, 5_000, strlen($good) - 1] as $length) {
            file_put_contents($this->path('sealed'), substr($good, 0, $length));
            $this->assertRefused('sealed_cut', BackupKey::of(self::DIGITS));
        }
        foreach ([9, 12, 20, 40, 50, 60, 90, 200, 1_200_000, strlen($good) - 3] as $at) {
            file_put_contents($this->path('sealed'), substr_replace($good, chr(ord($good[$at]) ^ 4), $at, 1));
            $this->assertRefused('sealed_changed', BackupKey::of(self::DIGITS));
        }
        file_put_contents($this->path('sealed'), $good.'x');
        $this->assertRefused('sealed_changed', BackupKey::of(self::DIGITS));
        // Two pieces changed places.
        $piece = SealedBackup::PIECE + SealedBackup::TAG;
        $swapped = substr($good, 0, SealedBackup::HEADER).substr(
            $good, SealedBackup::HEADER + $piece, $piece,
        ).substr($good, SealedBackup::HEADER, $piece).substr($good, SealedBackup::HEADER + 2 * $piece);
        file_put_contents($this->path('sealed'), $swapped);
        $this->assertRefused('sealed_changed', BackupKey::of(self::DIGITS));
    }

    public function testRandomDamageIsAlwaysANamedError(): void
    {
        file_put_contents($this->path('in'), random_bytes(4_000));
        SealedBackup::seal($this->path('in'), $this->path('sealed'), BackupKey::of(self::DIGITS));
        $good = (string) file_get_contents($this->path('sealed'));
        $chance = new \Random\Randomizer(new \Random\Engine\Mt19937(7));
        for ($n = 0; $n < 300; ++$n) {
            $bytes = substr_replace(
                $good, $chance->getBytes($chance->getInt(1, 40)), $chance->getInt(0, strlen($good) - 1),
                $chance->getInt(0, 60),
            );
            if ($bytes === $good) {
                continue;
            }
            file_put_contents($this->path('sealed'), $bytes);
            $this->assertRefused('', BackupKey::of(self::DIGITS));
        }
    }

    public function testTheChatsInASealedBackupAreReadWithItsKey(): void
    {
        $folder = Phones::giving($this->path(), [], false)->data('otterpost');
        $database = new \SQLite3($folder.'/pouch.db');
        $database->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $database->close();
        $open = ChatSource::open($folder, new Formats(), true);
        $summary = $open->chats->summary();
        SealedBackup::seal($folder.'/pouch.db', $folder.'/'.SealedBackup::FILE, BackupKey::of(self::DIGITS));
        unlink($folder.'/pouch.db');
        $sealed = ChatSource::open($folder, new Formats(), true, BackupKey::of(self::DIGITS));
        self::assertSame('local_backup', $sealed->form);
        self::assertSame($summary, $sealed->chats->summary());
        $this->expectException(UnusableInput::class);
        $this->expectExceptionMessage('sealed_needs_key');
        ChatSource::open($folder, new Formats(), true);
    }

    public function testNumbersForThePasswordOutOfAllProportionAreRefusedBeforeAnythingIsComputed(): void
    {
        file_put_contents($this->path('in'), 'chats');
        SealedBackup::seal($this->path('in'), $this->path('sealed'), BackupKey::of('nine pale herons'));
        $good = (string) file_get_contents($this->path('sealed'));
        ['passes' => $passes, 'memory' => $memory] = (array) unpack('Npasses/Nmemory', $good, 10);
        foreach ([
            [$passes, 268_435_457], [$passes, 0xFFFF_FFFF], [$passes, 8191], [0, $memory], [11, $memory],
        ] as $numbers) {
            $header = substr_replace(substr($good, 0, SealedBackup::HEADER - 32), pack('NN', ...$numbers), 10, 8);
            file_put_contents(
                $this->path('sealed'), $header.hash('sha256', $header, true).substr($good, SealedBackup::HEADER),
            );
            $this->assertRefused('sealed_changed', BackupKey::of('nine pale herons'));
        }
    }

    private function assertRefused(string $because, BackupKey $key): string
    {
        @unlink($this->path('out'));
        try {
            SealedBackup::open($this->path('sealed'), $key, $this->path('out'));
        } catch (UnusableInput $error) {
            self::assertStringContainsString($because, $error->getMessage());
            self::assertFileDoesNotExist($this->path('out'));
            self::assertFileDoesNotExist($this->path('out.part'));

            return $error->getMessage();
        }
        self::fail('It was opened.');
    }
}
