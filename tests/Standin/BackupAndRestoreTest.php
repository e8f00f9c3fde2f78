<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\Restorer;
use Geschenk\Core\Transfer\RestoreRefused;
use Geschenk\Core\UnusableInput;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\IncomingMessage;
use Geschenk\Standin\Phone\LocalBackupsOnPhone;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Backups;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** A pulled cable is a shrug: the core against stand-in phones with faults. */
final class BackupAndRestoreTest extends TestCase
{
    use Scratch;

    public function testABackupHoldsTheRawFilesAndTheChats(): void
    {
        $phone = Phones::giving($this->path('phones'));
        $before = Phones::fingerprint($phone->data('otterpost'));
        $this->backUp($phone);
        self::assertSame($before, Phones::fingerprint($phone->data('otterpost')), 'The giving phone is only read.');
        Bag::validate($this->path('bag'));
        self::assertFileEquals($phone->data('otterpost').'/pouch.db-wal', $this->path('bag/data/raw/pouch.db-wal'));
        $kept = ChatSource::open($this->path('bag'), new Formats(), true);
        $live = ChatSource::open($phone->data('otterpost'), new Formats(), true);
        self::assertSame('backup', $kept->form);
        self::assertSame($live->chats->summary(), $kept->chats->summary());
        self::assertFileDoesNotExist($this->path('bag/pull.sqlite'));
    }

    public function testASealedBackupIsOpenedAndKeptAsItWasSealed(): void
    {
        $phone = Phones::giving($this->path('phones'), [], false);
        $live = ChatSource::open($phone->data('otterpost'), new Formats(), true);
        Phones::seal($phone, 'low tide at six');
        $before = Phones::fingerprint($phone->data('otterpost'));
        // A wrong key shows before anything else is pulled.
        foreach ([
            '' => 'sealed_needs_key', 'high tide' => 'sealed_wrong_key',
            str_repeat('ab', 32) => 'sealed_wants_password',
        ] as $wrong => $says) {
            try {
                $this->backUp($phone, '' === $wrong ? null : BackupKey::of($wrong), 'pouch.sealed');
                self::fail('Opened with '.$wrong);
            } catch (UnusableInput $refusal) {
                self::assertStringContainsString($says, $refusal->getMessage());
                self::assertStringNotContainsString($this->path(), $refusal->getMessage());
            }
            self::assertSame([], iterator_to_array(Folder::files($this->path('bag.part'), 'data/raw/parcels'), false));
            self::assertDirectoryDoesNotExist($this->path('bag'));
        }
        $this->backUp($phone, BackupKey::of('low tide at six'), 'pouch.sealed');
        Bag::validate($this->path('bag'));
        self::assertSame($before, Phones::fingerprint($phone->data('otterpost')));
        self::assertFileEquals($phone->data('otterpost').'/pouch.sealed', $this->path('bag/data/raw/pouch.sealed'));
        self::assertFileDoesNotExist($this->path('bag/data/raw/pouch.db'));
        $kept = ChatSource::open($this->path('bag'), new Formats(), true);
        self::assertSame($live->chats->summary(), $kept->chats->summary());
        self::assertGreaterThan(0, $kept->chats->summary()['attachments_present']);
    }

    public function testWhereTheChatsLieOpenTooTheyAreTheNewerOnes(): void
    {
        $phone = Phones::giving($this->path('phones'), [], false);
        $live = ChatSource::open($phone->data('otterpost'), new Formats(), true)->chats->summary();
        file_put_contents($phone->data('otterpost').'/pouch.sealed', 'OTTRSEAL and something old');
        LocalBackupsOnPhone::make($phone, 'otterpost', true, 1_795_000_000);
        $this->backUp($phone);
        // What the messenger backed up belongs to no message of the chats as they are.
        self::assertFileDoesNotExist($this->path('bag/data/raw/pouch.sealed'));
        self::assertDirectoryDoesNotExist($this->path('bag/data/raw/spares'));
        self::assertFileExists($this->path('bag/data/raw/pouch.db'));
        self::assertSame(
            $live, ChatSource::open($this->path('bag'), new Formats(), true)->chats->summary(),
        );
    }

    public function testASafetyCopyHoldsAllThatTheAppKeepsOrSaysThatItDoesNot(): void
    {
        $phone = Phones::giving($this->path('phones'), [], true);
        LocalBackupsOnPhone::make($phone, 'otterpost', true, 1_795_000_000);
        file_put_contents($phone->data('otterpost').'/of nobody’s format', 'kept all the same');
        DemoMaker::rest($phone->data('otterpost'));
        (new Backups())->overCable(Phones::link($phone), $this->path('bag'), isWhole: true);
        self::assertSame(
            self::contents($phone->data('otterpost')), self::contents($this->path('bag/data/raw')),
        );
        self::assertSame(
            Phones::link($phone)->mark('otterpost'), Bag::info($this->path('bag'))[BackupMaker::MARK] ?? null,
        );
        Phones::plan($phone, ['on' => 'read', 'do' => 'error', 'path' => 'of nobody’s format', 'after_bytes' => 3]);
        $this->expectException(RestoreRefused::class);
        $this->expectExceptionMessage('not_copied_whole');
        (new Backups())->overCable(Phones::link($phone), $this->path('other'), isWhole: true);
    }

    /** @return array<string, string> SHA-256 by path */
    private static function contents(string $folder): array
    {
        $hashes = [];
        foreach (Folder::files($folder) as $path) {
            $hashes[$path] = (string) hash_file('sha256', $folder.'/'.$path);
        }

        return $hashes;
    }

    public function testTheMessengersOwnBackupsAreSeenFromOutsideTheNewestFirst(): void
    {
        $phone = Phones::giving($this->path('phones'), [], false);
        $videos = $phone->data('otterpost').'/parcels/video';
        @mkdir($videos);
        file_put_contents($videos.'/000001.mp4', 'a film');
        $films = count(glob($videos.'/*') ?: []);
        LocalBackupsOnPhone::make($phone, 'otterpost', true, 1_795_000_000);
        DemoMaker::lockBackups($phone, 'otterpost', str_repeat('0f', 32));
        LocalBackupsOnPhone::make($phone, 'otterpost', false, 1_795_090_000);
        DemoMaker::lockBackups($phone, 'otterpost', 'low tide at six');
        LocalBackupsOnPhone::make($phone, 'otterpost', true, 1_795_050_000);
        file_put_contents($phone->data('otterpost').'/pouch.sealed', 'OTTRSEAL'.chr(1).chr(9).'of no known sort');
        touch($phone->data('otterpost').'/pouch.sealed', 1_790_000_000);
        // Names that lead out, links and folders are no backups.
        symlink('/etc', $phone->data('otterpost').'/spares/away');
        mkdir($phone->data('otterpost').'/spares/empty/pouch.gz', 0o700, true);
        mkdir($phone->data('otterpost')."/spares/no\xff text");
        copy($phone->data('otterpost').'/pouch.sealed', $phone->data('otterpost')."/spares/no\xff text/pouch.sealed");
        $before = Phones::fingerprint($phone->data('otterpost'));
        $found = (new Backups())->offered(Phones::link($phone));
        self::assertSame(
            [
                ['spares/2026-11-19T12-06-40Z/pouch.sealed', 1_795_090_000, BackupLock::Digits, 0],
                ['spares/2026-11-19T01-00-00Z/pouch.sealed', 1_795_050_000, BackupLock::Password, $films],
                ['spares/2026-11-18T11-06-40Z/pouch.gz', 1_795_000_000, BackupLock::Open, $films],
                ['pouch.sealed', 1_790_000_000, null, $films],
            ],
            array_map(static fn (Offer $own): array => [
                $own->path, $own->madeAt, $own->lock, $own->videos,
            ], $found),
        );
        $parcels = iterator_to_array(Folder::files($phone->data('otterpost'), 'parcels'), false);
        self::assertSame(
            [count($parcels) - $films, count($parcels), count($parcels), count($parcels)],
            array_column($found, 'attachments'),
        );
        self::assertSame($before, Phones::fingerprint($phone->data('otterpost')), 'A look changes nothing.');
    }

    public function testAnOwnBackupBringsTheChatsAndTheAttachmentsOfItsTime(): void
    {
        $phone = Phones::giving($this->path('phones'), [], false);
        $then = ChatSource::open($phone->data('otterpost'), new Formats(), true)->chats->summary();
        LocalBackupsOnPhone::make($phone, 'otterpost', true, time());
        // Since then a message came, and the photos were deleted.
        IncomingMessage::comes($phone, 'otterpost');
        foreach (Folder::files($phone->data('otterpost'), 'parcels/photo') as $path) {
            unlink($phone->data('otterpost').'/'.$path);
        }
        $own = (new Backups())->offered(Phones::link($phone))[0];
        $before = Phones::fingerprint($phone->data('otterpost'));
        $this->backUp($phone, null, $own->path);
        self::assertSame($before, Phones::fingerprint($phone->data('otterpost')));
        Bag::validate($this->path('bag'));
        self::assertFileExists($this->path('bag/data/raw/pouch.gz'));
        self::assertSame(
            $then, ChatSource::open($this->path('bag'), new Formats(), true)->chats->summary(),
        );
        // By itself it is read as well, as the file and as its folder.
        foreach ([$own->path, dirname($own->path)] as $path) {
            $alone = ChatSource::open(
                $phone->data('otterpost').'/'.$path, new Formats(), true,
            );
            self::assertSame(['local_backup', $then], [$alone->form, $alone->chats->summary()]);
        }
    }

    public function testAnOwnBackupThatIsGoneCutOrChangedIsSaidAndNothingIsKept(): void
    {
        $phone = Phones::giving($this->path('phones'), [], false);
        LocalBackupsOnPhone::make($phone, 'otterpost', true, time() - 5_000);
        $own = (new Backups())->offered(Phones::link($phone))[0];
        $file = $phone->data('otterpost').'/'.$own->path;
        $good = (string) file_get_contents($file);
        $spoilt = [
            substr($good, 0, -9), substr($good, 0, 2_000), $good.'x',
            substr_replace($good, chr(ord($good[1_500]) ^ 1), 1_500, 1),
        ];
        foreach ($spoilt as $bytes) {
            file_put_contents($file, $bytes);
            touch($file, time() - 5_000);
            $this->refuses('local_backup_broken', fn () => $this->backUp($phone, null, $own->path));
        }
        // What is locked by now, or is no backup at all.
        file_put_contents($file, 'no backup');
        touch($file, time() - 5_000);
        $this->refuses('not_messenger_data', fn () => $this->backUp($phone, null, $own->path));
        unlink($file);
        $this->refuses('local_backup_gone', fn () => $this->backUp($phone, null, $own->path));
        $this->refuses('local_backup_gone', fn () => $this->backUp($phone, null, '../../phone.json'));
        $this->refuses('local_backup_gone', fn () => $this->backUp($phone, null, 'parcels/photo/000001.jpg'));
        self::assertDirectoryDoesNotExist($this->path('bag'));
    }

    private function refuses(string $reason, callable $do): void
    {
        try {
            $do();
            self::fail("Not refused: $reason");
        } catch (UnusableInput $refusal) {
            self::assertSame($reason, $refusal->reason);
        }
    }

    public function testAnInterruptedBackupGoesOnFromWhereItWas(): void
    {
        $phone = Phones::giving($this->path('phones'));
        Phones::plan($phone, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 300_000]);
        try {
            $this->backUp($phone);
            self::fail('The cable was pulled.');
        } catch (PhoneUnplugged) {
            self::assertDirectoryDoesNotExist($this->path('bag'));
        }
        $pulled = [];
        foreach (Folder::files($this->path('bag.part'), 'data/raw/parcels') as $file) {
            $pulled[$file] = fileinode($this->path('bag.part/'.$file));
        }
        self::assertNotEmpty($pulled);
        Phones::plug($phone);
        $this->backUp($phone);
        Bag::validate($this->path('bag'));
        foreach ($pulled as $file => $inode) {
            self::assertSame($inode, fileinode($this->path('bag/'.$file)), "$file was pulled twice");
        }
    }

    public function testAFileThatChangedSinceIsPulledAgain(): void
    {
        $phone = Phones::giving($this->path('phones'));
        Phones::plan($phone, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => 400_000]);
        try {
            $this->backUp($phone);
        } catch (PhoneUnplugged) {
        }
        $changed = iterator_to_array(Folder::files($this->path('bag.part'), 'data/raw/parcels'), false)[0];
        $path = substr($changed, strlen('data/raw/'));
        file_put_contents($phone->data('otterpost').'/'.$path, 'changed meanwhile');
        Phones::plug($phone);
        $this->backUp($phone);
        self::assertSame('changed meanwhile', file_get_contents($this->path('bag/'.$changed)));
        Bag::validate($this->path('bag'));
    }

    public function testAPhoneThatDoesNotAllowItIsNotRead(): void
    {
        $this->expectException(PhoneRefuses::class);
        $this->backUp(Phones::giving($this->path('phones'), ['admitted' => false]));
    }

    public function testDamagedDataOnThePhoneIsNoBackup(): void
    {
        $phone = Phones::giving($this->path('phones'));
        unlink($phone->data('otterpost').'/pouch.db-wal');
        file_put_contents($phone->data('otterpost').'/pouch.db', random_bytes(5_000));
        $this->expectException(UnusableInput::class);
        $this->backUp($phone);
    }

    public function testARestoreArrivesWholly(): void
    {
        [$expected, $folder] = $this->converted();
        $phone = Phones::receiving($this->path('phones'));
        $this->restore($phone, $folder);
        self::assertTrue($this->check($phone, $expected)->complete());
        self::assertDirectoryDoesNotExist($phone->path.'/incoming');
        self::assertDirectoryDoesNotExist($phone->path.'/old-otterpost');
    }

    public function testAnInterruptedRestoreLeavesThePhoneAsItWasAndGoesOn(): void
    {
        [$expected, $folder] = $this->converted();
        $phone = Phones::receiving($this->path('phones'));
        $before = Phones::fingerprint($phone->data('otterpost'));
        Phones::plan($phone, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 200_000]);
        try {
            $this->restore($phone, $folder);
            self::fail('The cable was pulled.');
        } catch (PhoneUnplugged) {
        }
        self::assertSame($before, Phones::fingerprint($phone->data('otterpost')));
        self::assertNotEmpty(iterator_to_array(Folder::files($phone->stage('otterpost', 'job')), false));
        Phones::plug($phone);
        $this->restore($phone, $folder);
        self::assertTrue($this->check($phone, $expected)->complete());
    }

    /**
     * @return iterable<string, array{
     *     string, bool, bool,
     * }> when the power goes, whether two folders can be exchanged, whether the new data is there then
     */
    public static function powerCuts(): iterable
    {
        yield 'before' => ['power_cut', true, false];
        yield 'after' => ['power_cut_after', true, true];
        yield 'before, by two renames' => ['power_cut', false, false];
        yield 'between two renames' => ['power_cut_between', false, false];
        yield 'after two renames' => ['power_cut_after', false, true];
    }

    #[DataProvider('powerCuts')]
    public function testPowerThatGoesInTheMiddleOfTheSwapLeavesEverythingOrNothing(
        string $when,
        bool $inOneStep,
        bool $isNew,
    ): void {
        [$expected, $folder] = $this->converted();
        $phone = Phones::receiving($this->path('phones'));
        $old = hash_file('sha256', $phone->data('otterpost').'/Pouch.sqlite');
        Phones::plan($phone, ['on' => 'swap', 'do' => $when]);
        $code = sprintf(
            'require %s; $l = new Geschenk\Standin\Phone\FolderPhoneLink(new Geschenk\Standin\Phone\PhoneFolder(%s), '
                .'%s); foreach (Geschenk\Core\Files\Durable\Folder::files(%s) as $f) { '
                .'$l->push("otterpost", "job", $f, '
                .'new Geschenk\Core\Phone\Sending(fopen(%s."/".$f, "r"))); } '
                .'$l->swap("otterpost", "job", $l->mark("otterpost"));',
            ...array_map(
                static fn (mixed $s): string => var_export($s, true),
                [dirname(__DIR__, 2).'/vendor/autoload.php', $phone->path, $inOneStep, $folder, $folder],
            ),
        );
        exec(escapeshellarg(\PHP_BINARY).' -r '.escapeshellarg($code).' 2>&1', $output, $status);
        self::assertSame(128 + \SIGKILL, $status, implode("\n", $output));
        // Whoever looks sees all of the old or all of the new, and changes nothing by it.
        $before = Phones::fingerprint($phone->path);
        $link = Phones::link($phone);
        self::assertSame($isNew ? 'job' : null, $link->swapped('otterpost'));
        self::assertSame($isNew, $this->check($phone, $expected)->complete());
        self::assertSame($isNew, $old !== hash_file('sha256', $phone->data('otterpost').'/Pouch.sqlite'));
        self::assertSame($before, Phones::fingerprint($phone->path));
        unlink($this->path('back.sqlite'));
        // The one who restores finishes it.
        $link->swap('otterpost', 'job', $link->mark('otterpost'));
        self::assertSame('job', $link->swapped('otterpost'));
        self::assertTrue($this->check($phone, $expected)->complete());
        self::assertDirectoryDoesNotExist($phone->path.'/old-otterpost');
        self::assertDirectoryDoesNotExist($phone->stage('otterpost', 'job'));
    }

    /** What was noted of a swap that never came counts for nothing once its stage is gone. */
    #[DataProvider('stagesThatVanish')]
    public function testAStageThatIsGoneWasNotPutInPlace(bool $isDropped): void
    {
        $phone = Phones::receiving($this->path('phones'));
        $before = Phones::fingerprint($phone->data('otterpost'));
        Phones::plan($phone, ['on' => 'swap', 'do' => 'power_cut']);
        $code = sprintf(
            'require %s; $l = new Geschenk\Standin\Phone\FolderPhoneLink(new Geschenk\Standin\Phone\PhoneFolder(%s)); '
                .'$l->push("otterpost", "job", "new", new Geschenk\Core\Phone\Sending(fopen("data:,new", "r"))); '
                .'$l->swap("otterpost", "job", $l->mark("otterpost"));',
            ...array_map(
                static fn (string $s): string => var_export($s, true),
                [dirname(__DIR__, 2).'/vendor/autoload.php', $phone->path],
            ),
        );
        exec(escapeshellarg(\PHP_BINARY).' -r '.escapeshellarg($code).' 2>&1', $output, $status);
        self::assertSame(128 + \SIGKILL, $status, implode("\n", $output));
        $link = Phones::link($phone);
        if ($isDropped) {
            $link->dropStage('otterpost', 'job');
        } else {
            // As when the phone is started anew, or somebody tidies up on it.
            Folder::remove($phone->path.'/incoming');
        }
        self::assertNull($link->swapped('otterpost'));
        self::assertSame($before, Phones::fingerprint($phone->data('otterpost')));
        try {
            $link->swap('otterpost', 'job', $link->mark('otterpost'));
            self::fail('There is nothing to be put in place.');
        } catch (PhoneRefuses $refusal) {
            self::assertSame('no_stage', $refusal->reason);
        }
    }

    /** @return iterable<string, array{bool}> */
    public static function stagesThatVanish(): iterable
    {
        yield 'dropped' => [true];
        yield 'gone by itself' => [false];
    }

    public function testAFullPhoneIsLeftAlone(): void
    {
        [, $folder] = $this->converted();
        $phone = Phones::receiving($this->path('phones'), ['storage_total' => 1_000_000, 'storage_other' => 900_000]);
        $before = Phones::fingerprint($phone->data('otterpost'));
        try {
            $this->restore($phone, $folder);
            self::fail('There was no space.');
        } catch (PhoneRefuses $refusal) {
            self::assertStringContainsString('phone_full', $refusal->getMessage());
        }
        self::assertSame($before, Phones::fingerprint($phone->data('otterpost')));
        self::assertDirectoryDoesNotExist($phone->path.'/incoming');
    }

    public function testThePhoneThatLosesFilesIsFoundOutExactly(): void
    {
        [$expected, $folder] = $this->converted();
        $phone = Phones::receiving($this->path('phones'));
        $files = iterator_to_array(Folder::files($folder), false);
        Phones::plan($phone, ['on' => 'first_open', 'do' => 'lose_files', 'largest' => 1, 'from' => 0.3, 'to' => 0.7]);
        $this->restore($phone, $folder);
        $lost = array_diff($files, iterator_to_array(Folder::files($phone->data('otterpost')), false));
        self::assertNotEmpty($lost);
        $totals = $this->check($phone, $expected);
        self::assertSame(count($lost), $totals->missing);
        self::assertSame(0, $totals->extra);
    }

    private function backUp(PhoneFolder $phone, ?BackupKey $key = null, ?string $own = null): void
    {
        $link = Phones::link($phone);
        null === $own
            ? (new Backups())->overCable($link, $this->path('bag'))
            : (new Backups())->outOf($link, $own, $this->path('bag'), $key);
    }

    /** @return array{ChatStore, string} */
    private function converted(): array
    {
        $source = ChatSource::open(
            Phones::giving($this->path('phones'))->data('otterpost'), new Formats(), true,
        );
        $format = Chats::format('ios');
        Expectation::of($format->capabilities())->build(
            $source->chats, $this->path('expected.sqlite'), new NoProgress(),
        );
        $expected = new ChatStore($this->path('expected.sqlite'));
        $format->writer()?->write(
            $expected, $source->files ?? new FolderFiles($this->path()), $this->path('out'), new NoProgress(),
        );

        return [$expected, $this->path('out')];
    }

    private function restore(PhoneFolder $phone, string $folder): void
    {
        $link = Phones::link($phone);
        $data = new FolderContents($folder);
        $manifest = Manifest::make($data, $this->path('manifest.txt'), static fn (int $bytes) => null);
        $staged = (new Restorer())->stage(
            $this->permit($link), new Staging($link, 'otterpost', 'job'), $data, $manifest, new NoProgress(),
        );
        (new Restorer())->swapIn($this->permit($link), $staged, $link, new NoProgress());
    }

    private function permit(PhoneLink $link): RestorePermit
    {
        return RestorePermit::grant(
            new ReceiverSeen($link->mark('otterpost')), new AgreedTo('T', 'T'),
            new Totals(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0),
        );
    }

    private function check(PhoneFolder $phone, ChatStore $expected): Totals
    {
        (new PhoneChats(new Formats(), new ReadingHere()))->read(
            Phones::link($phone), 'otterpost', $this->path('back.sqlite'), true, new NoProgress(),
        );

        return (new Comparison($expected, new ChatStore($this->path('back.sqlite'))))->run(
            $this->path('result.sqlite'), new NoProgress(),
        )->totals();
    }
}
