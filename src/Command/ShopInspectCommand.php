<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\DataFolder;
use Geschenk\App\DataKind;
use Geschenk\App\Words\Words;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('shop:inspect', 'Says whether the records can be worked with; before anything is changed in them')]
final class ShopInspectCommand extends Command
{
    public function __construct(private readonly DataFolder $data, private readonly Words $words)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $path = $this->data->records();
        $isThere = is_file($path);
        if ($isThere ? $this->isWhole($path) : !DataKind::holdsWork($this->data->path)) {
            return Command::SUCCESS;
        }
        $copies = glob($this->data->copies().'/*.sqlite') ?: [];
        $params = [
            'path' => $path, 'copies' => [] === $copies ? 'none' : 'some', 'copy' => [] === $copies ? '' : end($copies),
        ];
        $output->writeln(
            $isThere ? $this->words->say('records.broken', $params) : $this->words->say('records.gone', $params),
        );

        return Command::FAILURE;
    }

    private function isWhole(string $path): bool
    {
        try {
            // Not read-only: what lies in the write-ahead log belongs to it.
            $database = new \SQLite3($path, \SQLITE3_OPEN_READWRITE);
            $database->enableExceptions(true);
            $database->busyTimeout(5_000);

            $foreign = "SELECT COUNT(*) FROM sqlite_schema WHERE type IN ('trigger', 'view') "
                ."OR sql LIKE 'CREATE VIRTUAL%'";

            // We make none of these: they would have our own changes run what somebody else has written.
            return 'ok' === $database->querySingle('PRAGMA quick_check(1)')
                && 0 === $database->querySingle($foreign);
        } catch (\Exception) {
            return false;
        }
    }
}
