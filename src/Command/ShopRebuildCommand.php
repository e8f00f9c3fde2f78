<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\DataFolder;
use Geschenk\App\SecondPlace\PlaceInUse;
use Geschenk\App\Words\Words;
use Geschenk\App\Work\SecondPlace\OurPlace;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Failure;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\SecondPlace\PlaceCopies;
use Geschenk\Core\SecondPlace\PlacedKeyring;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * For ./geschenk rebuild, which gives it a folder of its own and puts what is in there in place behind it. Whoever
 * comes again finds what has come already.
 */
#[AsCommand('shop:rebuild', 'Brings a shop back from its second place, for ./geschenk rebuild')]
final class ShopRebuildCommand extends Command
{
    use ReportsUnusableInput;

    public function __construct(
        private readonly PlaceInUse $inUse,
        private readonly DataFolder $data,
        private readonly Keyring $keys,
        private readonly SealedVault $vault,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('keys', null, InputOption::VALUE_NONE, 'The keyring alone, with which the rest is opened');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            $place = $this->inUse->place();
            $place->ensureThere();
            if (true === $input->getOption('keys')) {
                Disk::put(Folder::make($this->data->keys()).'/'.Keyring::FILE, (new PlacedKeyring($place))->get());

                return Command::SUCCESS;
            }
            $copies = new PlaceCopies($place);
            $this->records($copies);
            [$kept, $trays] = $this->told();
            $output->writeln($this->words->say('rebuild.begins', [
                'place' => $place->label(), 'count' => count($kept) + count($trays),
            ]));
            $missing = [];
            foreach ($kept as $id) {
                $this->bring($copies, $id, $this->vault->folderOf($id), $output) ?: $missing[] = $id;
            }
            // A tray whose work has left nothing has nothing there.
            foreach (array_intersect(array_map(OurPlace::ofTray(...), $trays), $copies->names()) as $name) {
                $folder = $this->data->path.'/trays/'.OurPlace::trayOf($name);
                $this->bring($copies, $name, $folder, $output) ?: $missing[] = $name;
            }
            foreach (['backups', 'keys', 'trays'] as $folder) {
                Folder::make($this->data->path.'/'.$folder);
            }
            Disk::syncTogether($this->data->path);
            $output->writeln($this->words->say('rebuild.done', [
                'count' => count($kept) + count($trays) - count($missing), 'missing' => count($missing),
            ]));

            return Command::SUCCESS;
        });
    }

    private function records(PlaceCopies $copies): void
    {
        $copies->bring(OurPlace::RECORDS, $this->keys->key(OurPlace::KEY), $this->data->path);
    }

    /** @return array{list<string>, list<int>} ids of backups and numbers of trays that the records say are kept */
    private function told(): array
    {
        $records = new \SQLite3($this->data->records(), \SQLITE3_OPEN_READONLY);
        $records->enableExceptions(true);
        $column = static function (string $sql) use ($records): array {
            $found = $records->query($sql) ?: throw new \LogicException('SQLite says so by exception.');
            $values = [];
            while (false !== ($row = $found->fetchArray(\SQLITE3_NUM))) {
                $values[] = $row[0];
            }

            return $values;
        };
        /** @var list<string> $kept */
        $kept = $column('SELECT id FROM backup WHERE erase_asked_at IS NULL ORDER BY counter');
        /** @var list<int> $trays */
        $trays = $column('SELECT number FROM tray WHERE erase_asked_at IS NULL ORDER BY number');
        $records->close();

        return [$kept, $trays];
    }

    /** @return bool whether all of it has come; what has not is said, and the rest goes on */
    private function bring(PlaceCopies $copies, string $name, string $folder, OutputInterface $output): bool
    {
        try {
            $copies->bring($name, $this->keys->key(OurPlace::keyOf($name)), $folder);
            $output->writeln($this->words->say('rebuild.brought', ['name' => $name]));

            return true;
        } catch (PlaceFailure|KeyFailure $failure) {
            $isOfThisOne = $failure instanceof KeyFailure ? $failure->isFinal() : $failure->isOfOneCopy();
            $isOfThisOne ?: throw $failure;
            $output->writeln($this->words->say('rebuild.not_brought', [
                'name' => $name, 'why' => $this->said($failure),
            ]));

            return false;
        }
    }

    private function said(Failure $failure): string
    {
        return $this->words->failure($failure->reason, $failure->fields);
    }
}
